import { isLicenceAllowed } from '../registry/index.js';
import { copyFindings, reResolve } from './copy-findings.js';
import { decision, type FindingRule } from './finding.js';

/** A copy under a licence that the policy does not allow. */
export const licence: FindingRule = {
  kind: 'licence',
  severity: 'warning',
  raise: (grounds) => {
    const allowed = grounds.workspace.policy.licences;
    if (allowed.length === 0) return [];
    return copyFindings(
      grounds,
      (_, { licence: under }) =>
        isLicenceAllowed(under, allowed)
          ? null
          : under === null
            ? 'names no licence'
            : `is under ${under}, which the policy does not allow`,
      (copy, { licence: under }) => [
        ...reResolve(copy),
        ...(under === null || !/^[A-Za-z0-9.+-]+$/.test(under)
          ? []
          : [
              decision(`allow ${under}`, {
                kind: 'set-policy',
                package: null,
                setting: 'licences',
                value: [...allowed, under].join(','),
              }),
            ]),
      ],
    );
  },
};
