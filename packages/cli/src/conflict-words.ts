import type { ManifestConflict } from '@deep-ledger/core';

/** A conflict with its three values, a line each. */
export function conflictWords({ file, path, base, ours, theirs }: ManifestConflict): string {
  if (path.length === 0)
    return `${file}: one side removed it or cannot be read, the other changed it`;
  const values = [
    ['base', base],
    ['ours', ours],
    ['theirs', theirs],
  ].map(([side, value]) => `  ${side!.padEnd(6)} ${value ?? '(not there)'}`);
  return [`${file}: ${path.join(' / ')}`, ...values].join('\n');
}
