import type { Bench, Candidate, Draft } from '../api/client';

/** The candidate that the address names, else the one to begin with. */
export function chosenCandidate({ candidates }: Bench, wanted: string | null): Candidate | null {
  return (
    candidates.find(({ version }) => version === wanted) ??
    candidates.find(({ isSuggested }) => isSuggested) ??
    null
  );
}

/** Does a draft agree on this range for the package already? */
export function isPencilled(draft: Draft | undefined, name: string, range: string): boolean {
  return (
    draft?.edits.some(
      ({ edit }) => edit.kind === 'set-shared' && edit.package === name && edit.range === range,
    ) ?? false
  );
}
