import { explainLockChange } from '@deep-ledger/core';
import { changeWords } from './change-words.js';
import { EXIT } from './exit-codes.js';
import { readSide } from './lock-side.js';
import type { Output } from './output.js';

/** Says how two lockfiles differ and why; each is a file, a commit or a day. @returns the exit code: ok when they say the same */
export async function compareCommand(
  names: readonly [before: string, after: string],
  options: { readonly json?: true },
  output: Output,
): Promise<number> {
  const { resolution: before } = await readSide('.', names[0]);
  const { resolution: after } = await readSide('.', names[1]);
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
