import type { MovedCopy } from '@deep-ledger/core';

type Step = MovedCopy['step'];

/** How far each step leads, for comparing. */
export const STEP_RANKS: Readonly<Record<Step, number>> = {
  none: 0,
  prerelease: 1,
  patch: 2,
  minor: 3,
  major: 4,
};
