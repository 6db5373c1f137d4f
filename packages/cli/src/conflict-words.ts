import type { ManifestConflict } from '@deep-ledger/core';

/** A conflict with its three values, each under the name of its side; of several lines all begin in one column. */
export function conflictWords({ file, path, base, ours, theirs }: ManifestConflict): string {
  if (path.length === 0)
    return `${file}: one side removed it or cannot be read, the other changed it`;
  const values = [
    ['base', base],
    ['ours', ours],
    ['theirs', theirs],
  ].map(
    ([side, value]) =>
      `  ${side!.padEnd(6)} ${(value ?? '(not there)').replaceAll('\n', `\n${' '.repeat(9)}`)}`,
  );
  return [`${file}: ${path.join(' / ')}`, ...values].join('\n');
}
