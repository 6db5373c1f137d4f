import type { Candidate } from '@deep-ledger/core';
import type { Edit } from '../api/client';

/** The version under the mark: the one that the address names, else the one to begin with. */
export function markVersion(
  candidates: readonly Candidate[],
  wanted: string | null,
): string | null {
  return wanted ?? candidates[0]?.version ?? null;
}

/** Do the edits agree on this range for the package already? */
export function isPencilled(edits: readonly Edit[] | null, name: string, range: string): boolean {
  return (
    edits?.some(
      (edit) =>
        (edit.kind === 'level' || edit.kind === 'set-shared') &&
        edit.package === name &&
        edit.range === range,
    ) ?? false
  );
}
