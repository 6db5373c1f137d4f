import { isBlocking, placeProblems, type DraftBase } from '@deep-ledger/core';
import type { Output } from './output.js';

/** Is there no workspace, or no lockfile that could be read, to work on? That is said. */
export function unusableBase(base: DraftBase, output: Output): boolean {
  const { files, reading, lock } = base;
  for (const { place, message } of placeProblems(files, reading.problems))
    output.complain(`${place.file}:${place.line}:${place.column}: ${message}`);
  if (reading.workspace === null || reading.problems.some(isBlocking)) return true;
  if (lock?.resolution != null) return false;
  output.complain('There is no lockfile that can be read. Run deep-ledger lock first.');
  return true;
}
