import {
  evaluateDraft,
  findingsAfter,
  mayResolveOften,
  rankRemedies,
  type Finding,
} from '@deep-ledger/core';
import type { Asked, Progress } from './answer-question.js';
import type { TriedRemedy } from './question.js';

/** So many remedies are tried out; the rest are ranked by what they say of themselves. */
const MOST_TRIED = 12;

/** The remedies of open findings, the best first. Cost: one resolution for each that is tried. */
export function triedRemedies(
  { base, known }: Asked,
  findings: readonly Finding[],
  open: readonly Finding[],
  progress: Progress,
): readonly TriedRemedy[] {
  // Beyond a certain size it is left to whoever opens a remedy.
  const tries = mayResolveOften(base) ? MOST_TRIED : 0;
  const old = new Set(findings.map(({ id }) => id));
  return rankRemedies(open)
    .slice(0, 4 * MOST_TRIED)
    .map((remedy, i): TriedRemedy => {
      if (i < tries) progress(i, tries);
      const after =
        i < tries ? findingsAfter(base, evaluateDraft(base, remedy.edits), known) : null;
      if (after === null) return { ...remedy, clears: remedy.findings, raises: [] };
      const now = new Set(after.map(({ id }) => id));
      return {
        ...remedy,
        clears: findings.filter(({ id }) => !now.has(id)).map(({ id }) => id),
        raises: after.filter(({ id }) => !old.has(id)).map(({ id }) => id),
      };
    })
    .sort((a, b) => worth(b) - worth(a));
}

function worth({ clears, raises, touches }: TriedRemedy): number {
  return (clears.length - raises.length) / Math.sqrt(1 + touches);
}
