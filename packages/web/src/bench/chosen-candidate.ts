import type { Bench, Candidate } from '../api/client';

/** The candidate that the address names, else the newest that resolves and is not deprecated. */
export function chosenCandidate({ candidates }: Bench, wanted: string | null): Candidate | null {
  return (
    candidates.find(({ version }) => version === wanted) ??
    candidates.find(({ isAnswered, deprecated }) => isAnswered && deprecated === null) ??
    candidates[0] ??
    null
  );
}
