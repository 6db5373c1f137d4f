import type { DraftBase, Edit, OpenTerms } from '@deep-ledger/core';
import { EXIT } from './exit-codes.js';
import { tryGit } from './git/git.js';
import type { Output } from './output.js';

/** An acceptance of terms by whoever works here, or the exit code where it is refused. */
export type Acceptance = { readonly edits: readonly Edit[] } | { readonly code: number };

/**
 * Accepts the terms that edits bring and that the person named. Others are told, and nothing is done.
 * @param accept ids that the person accepts
 * @param folder of the work tree, whose git knows the person's name
 */
export async function acceptTerms(
  { today }: DraftBase,
  open: readonly OpenTerms[],
  accept: readonly string[],
  folder: string,
  output: Output,
): Promise<Acceptance> {
  const left = open.filter(({ id }) => !accept.includes(id));
  for (const { id, title, url, copies, earlier } of left) {
    const named = copies.map(({ name, version }) => `${name} ${version}`).join(', ');
    const since =
      earlier === null ? 'nobody has accepted' : `changed since ${earlier.by} accepted them`;
    output.complain(
      `${named}: under "${title}" (${url}), which ${since}. Read them; to accept them for the team add --accept ${id}.`,
    );
  }
  if (left.length > 0) {
    output.complain('Nothing was written.');
    return { code: EXIT.stale };
  }
  if (open.length === 0) return { edits: [] };
  const by = await personHere(folder);
  if (by !== null)
    return {
      edits: open.map(({ id, title, url }) => ({
        kind: 'accept-terms',
        ...{ id, title, url, by, on: today },
      })),
    };
  output.complain(
    'Git does not know your name, and an acceptance bears it. Set it with git config user.name. Nothing was written.',
  );
  return { code: EXIT.unreadable };
}

async function personHere(folder: string): Promise<string | null> {
  const name = (await tryGit(folder, ['config', 'user.name'])).out.trim();
  return name === '' ? null : name;
}
