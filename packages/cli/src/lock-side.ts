import { readFile } from 'node:fs/promises';
import {
  LOCK_FILE,
  lockProblemMessage,
  readLock,
  type Resolution,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { decodeText } from './decode-text.js';
import { commitNamed, filesOfTree } from './git/git-files.js';
import { git, tryGit } from './git/git.js';
import { UnreadableFile } from './unreadable-file.js';

/** A lockfile as a user names it. */
export interface Side {
  /** As it was named. */
  readonly name: string;
  readonly resolution: Resolution;
  /** Null: it is a file. */
  readonly commit: string | null;
  /** Of the commit; null: it is a file. */
  readonly files: WorkspaceFiles | null;
}

/**
 * A lockfile by its path, by a commit, or by a day (YYYY-MM-DD): then as the branch had it when the day was over, in UTC.
 * @param folder of the work tree
 * @throws UnreadableFile, GitError
 */
export async function readSide(folder: string, name: string): Promise<Side> {
  const file = await readFile(name).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return null;
    if (error.code === 'EISDIR')
      throw new UnreadableFile(`${name} is a folder; a lockfile, a commit or a day is expected.`);
    throw error;
  });
  if (file !== null) {
    const resolution = resolutionIn(name, decodeText(name, file));
    return { name, resolution, commit: null, files: null };
  }
  const { code } = await tryGit(folder, ['rev-parse', '--git-dir']);
  if (code !== 0) throw new UnreadableFile(`${name} is not there.`);
  const commit = /^\d{4}-\d{2}-\d{2}$/.test(name)
    ? await commitOnDay(folder, name)
    : await commitNamed(folder, name).catch(() => {
        throw new UnreadableFile(
          `${name} is neither a file, a commit nor a day (YYYY-MM-DD) here.`,
        );
      });
  const files = await filesOfTree(folder, commit);
  const text = files.get(LOCK_FILE);
  if (text === undefined) throw new UnreadableFile(`The commit ${name} has no ${LOCK_FILE}.`);
  return { name, resolution: resolutionIn(`${name}:${LOCK_FILE}`, text), commit, files };
}

async function commitOnDay(folder: string, day: string): Promise<string> {
  const args = ['log', '-1', '--first-parent', '--format=%H', `--until=${day}T23:59:59Z`, 'HEAD'];
  const commit = (await git(folder, args)).trim();
  if (commit !== '') return commit;
  throw new UnreadableFile(`The branch has no commit as old as ${day}.`);
}

/** @throws UnreadableFile */
export function resolutionIn(where: string, text: string): Resolution {
  const reading = readLock(text);
  switch (reading.kind) {
    case 'read':
      return reading.resolution;
    case 'conflicted':
      throw new UnreadableFile(`${where} carries the markers of an unfinished merge.`);
    case 'broken':
      throw new UnreadableFile(`${where}: ${lockProblemMessage(reading.problems[0]!)}`);
  }
}
