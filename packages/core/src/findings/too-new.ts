import { policyOf } from '../manifest/index.js';
import { copyFindings } from './copy-findings.js';
import type { FindingRule } from './finding.js';

const DAY_MS = 86_400_000;

/** A copy of a release that is younger than the policy asks for. */
export const tooNew: FindingRule = {
  kind: 'too-new',
  severity: 'warning',
  raise: (grounds) => {
    const today = Date.parse(grounds.stand.today);
    return copyFindings(grounds, ({ name }, { published }) => {
      const { minimumAgeDays } = policyOf(grounds.workspace.policy, name);
      if (minimumAgeDays === 0) return null;
      const age = Math.floor((today - Date.parse(published.slice(0, 10))) / DAY_MS);
      return age >= minimumAgeDays
        ? null
        : `is ${age} days old; the policy asks for ${minimumAgeDays}`;
    });
  },
};
