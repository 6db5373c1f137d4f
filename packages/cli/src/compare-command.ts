import { readFile } from 'node:fs/promises';
import {
  explainLockChange,
  lockProblemMessage,
  readLock,
  type Resolution,
} from '@deep-ledger/core';
import { changeWords } from './change-words.js';
import { EXIT } from './exit-codes.js';
import type { Output } from './output.js';
import { UnreadableFile } from './unreadable-file.js';

/** Says how two lockfiles differ and why. @returns the exit code: ok when they say the same */
export async function compareCommand(
  paths: readonly [before: string, after: string],
  options: { readonly json?: true },
  output: Output,
): Promise<number> {
  const [before, after] = await Promise.all([readResolution(paths[0]), readResolution(paths[1])]);
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

async function readResolution(path: string): Promise<Resolution> {
  const reading = readLock(await readFile(path, 'utf8'));
  switch (reading.kind) {
    case 'read':
      return reading.resolution;
    case 'conflicted':
      throw new UnreadableFile(`${path} carries the markers of an unfinished merge.`);
    case 'broken':
      throw new UnreadableFile(`${path}: ${lockProblemMessage(reading.problems[0]!)}`);
  }
}
