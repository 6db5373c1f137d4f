import { readFile } from 'node:fs/promises';
import { join, resolve } from 'node:path';
import { LOCK_FILE } from '@deep-ledger/core';
import { git, tryGit } from './git.js';

/** Set while git merges on our behalf: a driver that is called then leaves the lockfile for later. */
export const WITHIN = 'DEEP_LEDGER_WITHIN_MERGE';

/** The lockfiles that git hands to a merge driver. */
export interface LockTexts {
  readonly base: string;
  readonly ours: string;
  readonly theirs: string;
}

/**
 * The tree that git makes of what it is merging right now, the lockfile aside. Git hands a driver one
 * file at a time and no commits, so they are looked for: those of `git merge` are in the environment, those
 * of a cherry-pick, a rebase or a reversal are found by the lockfiles that they changed.
 * Null: it cannot be told what is being merged.
 */
export async function mergedTree(folder: string, texts: LockTexts): Promise<string | null> {
  const heads = Object.keys(process.env).flatMap(
    (name) => /^GITHEAD_([0-9a-f]{40,64})$/.exec(name)?.[1] ?? [],
  );
  if (heads.length === 1) return treeOf(folder, ['HEAD', heads[0]!]);
  const pair = await pickedCommits(folder, texts);
  if (pair === null) return null;
  const base = await lonely(folder, pair.base, []);
  const ours = await lonely(folder, 'HEAD', [base]);
  const theirs = await lonely(folder, pair.theirs, [base]);
  return treeOf(folder, [ours, theirs]);
}

async function treeOf(folder: string, sides: readonly [string, string]): Promise<string | null> {
  const { code, out } = await tryGit(folder, ['merge-tree', '--write-tree', ...sides], {
    env: { [WITHIN]: '1' },
  });
  return code > 1 ? null : out.split('\n')[0]!;
}

/** A commit of the same tree with other parents: what git merges is trees with a common base. */
async function lonely(folder: string, commit: string, parents: readonly string[]): Promise<string> {
  const who = { NAME: 'merge driver', EMAIL: 'merge-driver', DATE: '2000-01-01T00:00:00Z' };
  const env = Object.fromEntries(
    Object.entries(who).flatMap(([key, value]) => [
      [`GIT_AUTHOR_${key}`, value],
      [`GIT_COMMITTER_${key}`, value],
    ]),
  );
  const args = ['commit-tree', `${commit}^{tree}`, '-m', 'side of a merge'];
  for (const parent of parents) args.push('-p', parent);
  return (await git(folder, args, { env })).trim();
}

/** The commit that is picked or taken back: the one between whose lockfile and its parent's the change lies. */
async function pickedCommits(
  folder: string,
  texts: LockTexts,
): Promise<{ readonly base: string; readonly theirs: string } | null> {
  const [base, ours, theirs] = await Promise.all(
    [texts.base, texts.ours, texts.theirs].map(async (input) =>
      (await git(folder, ['hash-object', '--stdin'], { input })).trim(),
    ),
  );
  const lockOf = async (commit: string): Promise<string | null> => {
    const { code, out } = await tryGit(folder, [
      'rev-parse',
      '-q',
      '--verify',
      `${commit}:${LOCK_FILE}`,
    ]);
    return code === 0 ? out.trim() : null;
  };
  if ((await lockOf('HEAD')) !== ours) return null;
  const touching = await git(folder, [
    'log',
    '--all',
    '--reflog',
    '--format=%H',
    `--find-object=${theirs}`,
    '--',
    LOCK_FILE,
  ]);
  const candidates = [
    ...(await named(folder)),
    ...touching.split('\n').filter((one) => one !== ''),
  ];
  for (const commit of candidates) {
    const [own, parents] = await Promise.all([lockOf(commit), lockOf(`${commit}^`)]);
    if (own === theirs && parents === base) return { base: `${commit}^`, theirs: commit };
    if (own === base && parents === theirs) return { base: commit, theirs: `${commit}^` };
  }
  return null;
}

/** Commits that git itself says it is at work on. */
async function named(folder: string): Promise<readonly string[]> {
  const found: string[] = [];
  for (const name of ['REBASE_HEAD', 'CHERRY_PICK_HEAD', 'REVERT_HEAD']) {
    const { code, out } = await tryGit(folder, ['rev-parse', '-q', '--verify', name]);
    if (code === 0) found.push(out.trim());
  }
  const place = (await git(folder, ['rev-parse', '--git-path', 'rebase-merge/done'])).trim();
  const done = await readFile(join(resolve(folder), place), 'utf8').catch(() => '');
  const last = done.trimEnd().split('\n').at(-1)!.split(' ')[1];
  return last === undefined ? found : [last, ...found];
}
