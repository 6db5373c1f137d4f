import type { FindingRule } from './finding.js';
import { staleFindings } from './lock-reasons.js';

/** A requirement to which the lockfile has no answer, or none that holds. */
export const unlocked: FindingRule = {
  kind: 'unlocked',
  severity: 'error',
  raise: (grounds) =>
    staleFindings(grounds, [
      'LOCK_MISSING',
      'PROJECT_ADDED',
      'PROJECT_RENAMED',
      'REQUIREMENT_ADDED',
      'REQUIREMENT_CHANGED',
      'ANSWER_MISSING',
      'ANSWER_OUT_OF_RANGE',
      'ANSWER_FOR_OTHER_TARGETS',
      'SKIP_UNFOUNDED',
      'PIN_UNHEEDED',
      'POLICY_UNHEEDED',
      'TARGETS_CHANGED',
      'PEER_UNSUPPLIED',
      'PEER_UNMET',
    ]),
};
