import { readFile } from 'node:fs/promises';
import {
  explainLockChange,
  LOCK_FILE,
  lockProblemMessage,
  readLock,
  type Resolution,
} from '@deep-ledger/core';
import { changeWords } from './change-words.js';
import { decodeText } from './decode-text.js';
import { EXIT } from './exit-codes.js';
import { commitNamed, filesOfTree } from './git/git-files.js';
import { tryGit } from './git/git.js';
import type { Output } from './output.js';
import { UnreadableFile } from './unreadable-file.js';

/** Says how two lockfiles differ and why; each is a file or a commit. @returns the exit code: ok when they say the same */
export async function compareCommand(
  names: readonly [before: string, after: string],
  options: { readonly json?: true },
  output: Output,
): Promise<number> {
  const before = await readResolution(names[0]);
  const after = await readResolution(names[1]);
  const change = explainLockChange(before, after);
  const isSame =
    change.because.length + change.reanswered.length + change.requirements.length === 0;
  if (options.json) output.say(JSON.stringify({ format: 1, same: isSame, ...change }));
  else if (isSame) output.say('Both say the same.');
  else {
    for (const one of change.because) output.say(changeWords(one));
    for (const { owner, name, from, to } of change.reanswered)
      output.say(`answer ${owner}: ${name} ${from ?? 'none'} -> ${to ?? 'none'}`);
  }
  return isSame ? EXIT.ok : EXIT.stale;
}

async function readResolution(name: string): Promise<Resolution> {
  const reading = readLock(await lockText(name));
  switch (reading.kind) {
    case 'read':
      return reading.resolution;
    case 'conflicted':
      throw new UnreadableFile(`${name} carries the markers of an unfinished merge.`);
    case 'broken':
      throw new UnreadableFile(`${name}: ${lockProblemMessage(reading.problems[0]!)}`);
  }
}

/** The text of a lockfile: of a file, or as a commit has it. */
async function lockText(name: string): Promise<string> {
  const file = await readFile(name).catch((error: NodeJS.ErrnoException) => {
    if (error.code === 'ENOENT' || error.code === 'ENOTDIR') return null;
    if (error.code === 'EISDIR')
      throw new UnreadableFile(`${name} is a folder; a lockfile or a commit is expected.`);
    throw error;
  });
  if (file !== null) return decodeText(name, file);
  const { code } = await tryGit('.', ['rev-parse', '--git-dir']);
  if (code !== 0) throw new UnreadableFile(`${name} is not there.`);
  const oid = await commitNamed('.', name).catch(() => {
    throw new UnreadableFile(`${name} is neither a file nor a commit here.`);
  });
  const text = (await filesOfTree('.', oid)).get(LOCK_FILE);
  if (text === undefined) throw new UnreadableFile(`The commit ${name} has no ${LOCK_FILE}.`);
  return text;
}
