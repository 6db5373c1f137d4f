import type { AnsweredRequirement, LockDifference, Resolution } from '@deep-ledger/core';

/** An owner that a copy, or a project, answers. */
export interface Requirer {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  readonly range: string;
}

/** Who requires what a difference leads to; projects come first. O(size) */
export function requirersOf(
  { projects, copies }: Resolution,
  { name, to }: LockDifference,
): readonly Requirer[] {
  const found: Requirer[] = [];
  const look = (owner: string, requirements: readonly AnsweredRequirement[]): void => {
    for (const { name: required, range, written, answer } of requirements) {
      const answered =
        answer.kind === 'copy' ? answer.version : answer.kind === 'project' ? answer.folder : null;
      if (required === name && answered !== null && answered === to)
        found.push({ owner, range: range ?? written });
    }
  };
  for (const { folder, requirements } of projects) look(folder, requirements);
  for (const copy of copies) look(`${copy.name} ${copy.version}`, copy.requirements);
  return found;
}
