import type { Resolution } from '../resolve/index.js';
import type { WorkspaceFiles } from '../workspace/index.js';
import { changedUnits } from './changed-units.js';
import { answersThatDiffer } from './earlier-answers.js';
import type { Edit, PutBack } from '../edit/index.js';

/**
 * The edit that takes a commit back: each unit of a manifest that it changed as it was before, and the
 * answers that it moved the lockfile from. Files that it made or removed as a whole are left alone.
 * @param before the workspace's files at the commit's parent
 * @param after the files at the commit
 * @param locks the lockfiles at both, where they can be read
 * @returns null when there is nothing to take back
 */
export function reversalOf(
  { commit, title }: { readonly commit: string; readonly title: string },
  before: WorkspaceFiles,
  after: WorkspaceFiles,
  locks: { readonly before: Resolution | null; readonly after: Resolution | null },
): Edit | null {
  const units = changedUnits(before, after).flatMap(({ file, was, is }): PutBack[] => {
    const { path } = (was ?? is)!;
    // A file that the commit made keeps what every file of its kind must say.
    if (was === null && ['format', 'name'].includes(path.join())) return [];
    const { source, isBlock } = was ?? { source: null, isBlock: false };
    return [{ file, path, found: is?.value ?? null, source, isBlock }];
  });
  const answers =
    locks.before === null || locks.after === null
      ? []
      : answersThatDiffer(locks.before, locks.after);
  if (units.length === 0 && answers.length === 0) return null;
  return { kind: 'take-back', commit, title, units, answers };
}
