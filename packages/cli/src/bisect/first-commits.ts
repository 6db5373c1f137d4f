import {
  LOCK_FILE,
  LockDifferences,
  type LockDifference,
  type Resolution,
} from '@deep-ledger/core';
import { git } from '../git/git.js';
import { resolutionIn } from '../lock-side.js';

/** A commit as it is told. */
export interface ToldCommit {
  readonly commit: string;
  readonly subject: string;
  readonly author: string;
  /** RFC 3339. */
  readonly at: string;
}

/**
 * The first commit after one, on the way to another by first parents, whose lockfile has a difference; null where none has, or where
 * neither leads to the other.
 * @param differences that are looked for
 * O(commits that changed the lockfile x its size)
 */
export async function firstCommits(
  folder: string,
  [from, to]: readonly [from: string, to: string],
  before: Resolution,
  differences: readonly LockDifference[],
): Promise<readonly (ToldCommit | null)[]> {
  const format = '--format=%H%x00%s%x00%an%x00%aI';
  const range = ['log', '--first-parent', '--reverse', format, `${from}..${to}`, '--', LOCK_FILE];
  const lines = (await git(folder, range)).split('\n').filter(Boolean);
  const found = differences.map((): ToldCommit | null => null);
  for (const line of lines) {
    if (!found.includes(null)) break;
    const [commit = '', subject = '', author = '', at = ''] = line.split('\0');
    const text = await git(folder, ['show', `${commit}:${LOCK_FILE}`]).catch(() => null);
    if (text === null) continue;
    const here = new LockDifferences(before, resolutionIn(commit, text));
    differences.forEach((one, i) => {
      if (found[i] === null && here.numberOf(one) !== undefined)
        found[i] = { commit, subject, author, at };
    });
  }
  return found;
}
