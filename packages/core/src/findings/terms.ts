import { termsStand } from '../lock/index.js';
import { copyFindings, reResolve } from './copy-findings.js';
import { decision, type FindingRule } from './finding.js';

/** Stands in for the person until one takes the step. */
const WHOEVER = 'whoever takes this step';

/** A copy under terms that nobody has accepted as they read now. */
export const terms: FindingRule = {
  kind: 'terms',
  severity: 'warning',
  raise: (grounds) => {
    const { accepted } = grounds.workspace.shared;
    return copyFindings(
      grounds,
      (_, { terms: under }) => {
        if (under === null) return null;
        const { state } = termsStand(accepted, under);
        if (state === 'accepted') return null;
        return state === 'changed'
          ? `is under "${under.title}", which changed since they were accepted`
          : `is under "${under.title}", which nobody has accepted`;
      },
      (copy, { terms: under }) => [
        ...reResolve(copy),
        decision(`accept "${under!.title}"`, {
          kind: 'accept-terms',
          ...under!,
          by: WHOEVER,
          on: grounds.stand.today,
        }),
      ],
    );
  },
};
