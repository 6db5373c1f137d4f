import { decision, type FindingRule } from './finding.js';
import { copyFindings } from './copy-findings.js';

/** A copy whose integrity in the lockfile is not what the registry says of it. */
export const tampered: FindingRule = {
  kind: 'tampered',
  severity: 'error',
  raise: (grounds) =>
    copyFindings(
      grounds,
      ({ integrity }, { archive }) =>
        integrity === archive.integrity
          ? null
          : `has the integrity ${short(integrity)} in the lockfile; the registry says ${short(archive.integrity)}`,
      // Which of the two is right is for people to find out.
      ({ name, version }, { archive }) => [
        decision("take the registry's integrity, once you know that it is right", {
          kind: 'take-integrity',
          package: name,
          version,
          integrity: archive.integrity,
        }),
      ],
    ),
};

function short(integrity: string): string {
  return integrity.length > 20 ? `${integrity.slice(0, 19)}…` : integrity;
}
