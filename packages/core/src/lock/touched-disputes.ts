import {
  copyKey,
  type AnsweredRequirement,
  type DisputedCopy,
  type Resolution,
} from '../resolve/index.js';
import { printCopy } from './print-lock.js';

/**
 * Of copies in dispute those that a change of the lockfile touches: their block changes, or others require them than
 * before. One that leaves the lockfile is not among them.
 * Cost: O(requirements of both), and nothing where no copy is in dispute.
 */
export function touchedDisputes(
  disputed: readonly DisputedCopy[],
  before: Resolution | null,
  after: Resolution,
): readonly DisputedCopy[] {
  if (disputed.length === 0) return [];
  const was = blocksAndRequirers(before ?? { projects: [], copies: [] });
  const is = blocksAndRequirers(after);
  return disputed.filter((dispute) => was(copyKey(dispute)) !== is(copyKey(dispute)));
}

/** Of a copy's key, its block and all who are answered by it, as one text. */
function blocksAndRequirers({ projects, copies }: Resolution): (key: string) => string {
  const blocks = new Map(copies.map((copy) => [copyKey(copy), copy]));
  const requirers = new Map<string, string[]>();
  const note = (owner: string, { kind, name, answer }: AnsweredRequirement): void => {
    if (answer.kind !== 'copy') return;
    const key = copyKey({ name, version: answer.version });
    const known = requirers.get(key);
    if (known === undefined) requirers.set(key, [`${owner} ${kind}`]);
    else known.push(`${owner} ${kind}`);
  };
  for (const { folder, requirements } of projects)
    for (const one of requirements) note(`project ${folder}`, one);
  for (const copy of copies) for (const one of copy.requirements) note(copyKey(copy), one);
  return (key) => {
    const copy = blocks.get(key);
    return `${copy === undefined ? '' : printCopy(copy)}\n${(requirers.get(key) ?? []).join('\n')}`;
  };
}
