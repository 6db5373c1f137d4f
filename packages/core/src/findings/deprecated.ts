import { copyFindings, reResolve } from './copy-findings.js';
import type { FindingRule } from './finding.js';

/** A copy of a release that its makers advise against. */
export const deprecated: FindingRule = {
  kind: 'deprecated',
  severity: 'warning',
  raise: (grounds) =>
    copyFindings(
      grounds,
      (_, release) => (release.deprecated === null ? null : `is deprecated: ${release.deprecated}`),
      reResolve,
    ),
};
