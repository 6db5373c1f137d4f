import { checkLock, lockSum, printLock } from '@deep-ledger/core';
import { EXIT } from './exit-codes.js';
import { usableWorkspace, type Output } from './lock-command.js';
import { readWorkTree } from './work-tree.js';

/** Says whether the lockfile answers the manifests; asks no registry. @returns the exit code */
export async function checkCommand(
  options: { readonly in: string },
  output: Output,
): Promise<number> {
  const files = await readWorkTree(options.in);
  const workspace = usableWorkspace(files, output);
  if (workspace === null) return EXIT.unreadable;
  const { state, reasons, resolution } = checkLock(workspace, files);
  for (const { message, place } of reasons)
    output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
  if (state === 'true' && resolution !== null) {
    output.say(
      `The lockfile is true: ${resolution.copies.length} copies, sum ${lockSum(printLock(resolution)).slice(0, 8)}.`,
    );
    return EXIT.ok;
  }
  output.complain(`The lockfile is ${state}.`);
  return state === 'broken' ? EXIT.unreadable : EXIT.stale;
}
