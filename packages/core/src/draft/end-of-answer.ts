import { isBlocking } from '../workspace/index.js';
import type { DraftBase } from './draft-base.js';
import type { Edit } from '../edit/index.js';
import { makeEdits, termsOf } from './evaluate-draft.js';

/**
 * Index of the first edit that leaves the workspace without an answer, be it answered again by a later one;
 * null: none does.
 * Cost: for each edit up to it a reading of the files that it changes, and an answer of the base's engine.
 */
export function endOfAnswer(base: DraftBase, edits: readonly Edit[]): number | null {
  if (base.workspace === null) return null;
  let stand: Pick<DraftBase, 'files' | 'reading'> = base;
  for (const [i, edit] of edits.entries()) {
    stand = makeEdits(stand, base.workspace, [edit]);
    const { workspace, problems } = stand.reading;
    if (workspace === null || problems.some(isBlocking)) continue;
    const outcome = base.engine.resolve({ ...termsOf(base, edits.slice(0, i + 1)), workspace });
    if (outcome.kind === 'unanswered') return i;
  }
  return null;
}
