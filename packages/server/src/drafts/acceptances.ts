import { Problem } from '../problems/problem.js';
import { authorOf, type Actor } from '../team/actor.js';
import { mayAsRole } from '../team/capability.js';
import type { DraftEntry } from './draft.entity.js';

/**
 * Entries with every acceptance of terms as made by whoever adds it, that day. One that the draft had before keeps who
 * made it and when.
 * @param known entries of the draft as it stands
 * @param today YYYY-MM-DD
 * @throws Problem NOT_ALLOWED where somebody accepts who may not post
 */
export function signedAcceptances(
  entries: readonly DraftEntry[],
  known: readonly DraftEntry[],
  by: Actor,
  today: string,
): readonly DraftEntry[] {
  return entries.map(({ edit, isOut }) => {
    if (edit.kind !== 'accept-terms') return { edit, isOut };
    const before = known.find(
      ({ edit: one }) =>
        one.kind === 'accept-terms' &&
        one.id === edit.id &&
        one.title === edit.title &&
        one.url === edit.url,
    );
    if (before !== undefined) return { edit: before.edit, isOut };
    if (by.kind !== 'account' || !mayAsRole(by.role, 'post'))
      throw new Problem(
        'NOT_ALLOWED',
        403,
        'Not allowed',
        'Terms are accepted by a person who may post. Ask a keeper of the workspace to accept them in this draft.',
      );
    return { edit: { ...edit, by: authorOf(by).name, on: today }, isOut };
  });
}
