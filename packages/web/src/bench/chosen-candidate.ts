import type { Bench, Candidate, Draft } from '../api/client';

/**
 * The candidate that the address names; else the newest that resolves, is not deprecated and takes
 * nobody to a major that no project is at yet.
 */
export function chosenCandidate(
  { candidates, row }: Bench,
  wanted: string | null,
): Candidate | null {
  const highest = Math.max(...row.marks.map(({ version }) => majorOf(version)));
  const good = candidates.filter(({ isAnswered, deprecated }) => isAnswered && deprecated === null);
  return (
    candidates.find(({ version }) => version === wanted) ??
    good.find(({ version }) => majorOf(version) <= highest) ??
    good[0] ??
    candidates[0] ??
    null
  );
}

function majorOf(version: string): number {
  return Number(version.split('.')[0]);
}

/** Does a draft agree on this range for the package already? */
export function isPencilled(draft: Draft | undefined, name: string, range: string): boolean {
  return (
    draft?.edits.some(
      ({ edit }) => edit.kind === 'set-shared' && edit.package === name && edit.range === range,
    ) ?? false
  );
}
