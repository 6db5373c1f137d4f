import type { Edit } from '../edit/index.js';
import type { RePick } from '../resolve/index.js';
import { rangeContains, requireVersion } from '../version/index.js';
import { rangeFor } from '../manifest/index.js';
import { chainEvidence, demandsEvidence } from './evidence.js';
import { remedy, type FindingRule, type Remedy } from './finding.js';
import type { Grounds } from './grounds.js';

/** A package has more than one copy: forced, by demands that clash, or needless, by the picks that end it. */
export const severalCopies: FindingRule = {
  kind: 'several-copies',
  severity: 'warning',
  raise: (grounds) => {
    const demands = demandRanges(grounds);
    const rows = new Map(grounds.stand.rows.map((row) => [row.name, row]));
    return [...rows.values()].flatMap((row) => {
      const versions = grounds.answers.copiesOf(row.name);
      if (versions.length < 2) return [];
      const picks = needlessPicks(grounds, row.name, versions, demands.get(row.name) ?? NONE);
      const level = grounds.levelling(row);
      const remedies: Remedy[] = picks.map(({ version, rePicks }) =>
        remedy(
          `pick ${rePicks.map(({ name, to }) => `${name} ${to}`).join(' and ')}; ${version} goes, and no manifest changes`,
          ...rePicks.map(({ name, from, to }): Edit => ({
            kind: 're-pick',
            package: name,
            from,
            to,
          })),
        ),
      );
      if (level.length > 0)
        remedies.push(remedy(`level what projects ask of ${row.name}`, ...level));
      const isNeedless = picks.length > 0;
      return {
        package: row.name,
        says: `${row.name} has ${versions.length} copies, ${versions.join(' and ')}: ${
          isNeedless ? `${picks.map(({ version }) => version).join(', ')} is needless` : 'forced'
        }`,
        severity: isNeedless ? 'warning' : 'note',
        evidence: [
          demandsEvidence(row.name),
          ...versions.flatMap((version) => chainEvidence(grounds, row.name, version)),
        ],
        remedies,
      };
    });
  },
};

/** By version of a copy, the ranges that it answers. */
type DemandRanges = ReadonlyMap<string, ReadonlySet<string>>;

const NONE: DemandRanges = new Map();

interface Needless {
  readonly version: string;
  readonly rePicks: readonly RePick[];
}

/**
 * Copies that can go: as it was found by resolving, or, where nobody looked, those all of whose demands another
 * copy meets.
 */
function needlessPicks(
  { stand, workspace }: Grounds,
  name: string,
  versions: readonly string[],
  demands: DemandRanges,
): readonly Needless[] {
  if (stand.needless !== null)
    return stand.needless.filter((one) => one.name === name).slice(0, versions.length - 1);
  const releases = new Map(versions.map((version) => [version, requireVersion(version)]));
  const found: Needless[] = [];
  for (const version of versions) {
    if (found.length === versions.length - 1) break;
    const ranges = [...(demands.get(version) ?? [])].map((range) =>
      rangeFor(workspace.policy, name, range),
    );
    const gone = new Set(found.map((one) => one.version));
    const other = versions.findLast(
      (one) =>
        one !== version &&
        !gone.has(one) &&
        ranges.every((range) => rangeContains(range, releases.get(one)!)),
    );
    if (other !== undefined) found.push({ version, rePicks: [{ name, from: version, to: other }] });
  }
  return found;
}

/** The demands on every package that has several copies. O(requirements). */
function demandRanges({ resolution, answers }: Grounds): ReadonlyMap<string, DemandRanges> {
  const byName = new Map<string, Map<string, Set<string>>>();
  for (const { requirements } of [...resolution.projects, ...resolution.copies]) {
    for (const { name, range, answer } of requirements) {
      if (answer.kind !== 'copy' || answers.copiesOf(name).length < 2) continue;
      let byVersion = byName.get(name);
      if (byVersion === undefined) byName.set(name, (byVersion = new Map<string, Set<string>>()));
      const ranges = byVersion.get(answer.version);
      if (ranges === undefined) byVersion.set(answer.version, new Set([range ?? '*']));
      else ranges.add(range ?? '*');
    }
  }
  return byName;
}
