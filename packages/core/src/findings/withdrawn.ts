import { copyFindings } from './copy-findings.js';
import type { FindingRule } from './finding.js';

/** A copy of a release that its makers took back. */
export const withdrawn: FindingRule = {
  kind: 'withdrawn',
  severity: 'error',
  raise: (grounds) =>
    copyFindings(grounds, (_, { isWithdrawn }) =>
      isWithdrawn ? 'was withdrawn by its makers' : null,
    ),
};
