import { printVersion, rangeContains, requireRange } from '../version/index.js';
import { copyFindings, reResolve } from './copy-findings.js';
import type { FindingRule } from './finding.js';

/** A copy asks for a platform that the workspace does not offer. */
export const platform: FindingRule = {
  kind: 'platform',
  severity: 'error',
  raise: (grounds) => {
    const offered = grounds.workspace.platform;
    return copyFindings(
      grounds,
      (_, release) => {
        for (const [name, range] of release.platform) {
          const version = offered.get(name);
          if (version === undefined || rangeContains(requireRange(range, 'always'), version))
            continue;
          return `asks for ${name} ${range}; the workspace offers ${printVersion(version)}`;
        }
        return null;
      },
      reResolve,
    );
  },
};
