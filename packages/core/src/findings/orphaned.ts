import type { FindingRule } from './finding.js';
import { staleFindings } from './lock-reasons.js';

/** A copy that nothing requires, or an answer to what nobody asks any more. */
export const orphaned: FindingRule = {
  kind: 'orphaned',
  severity: 'warning',
  raise: (grounds) =>
    staleFindings(grounds, ['COPY_ORPHANED', 'PROJECT_GONE', 'REQUIREMENT_GONE', 'SUPPLY_IDLE']),
};
