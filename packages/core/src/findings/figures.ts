import { compareVersions, isPrerelease, requireVersion } from '../version/index.js';
import { isShared, type AlignmentRow } from '../alignment/index.js';
import {
  FINDING_KINDS,
  SEVERITIES,
  type Finding,
  type FindingKind,
  type Severity,
} from './finding.js';
import type { Stand } from './grounds.js';

/** How a workspace stands, in figures that can be laid beside those of another day. */
export interface Figures {
  readonly projects: number;
  /** Packages that two or more projects require, and those of them that are out of line. */
  readonly shared: number;
  readonly outOfLine: number;
  /** Requirements of projects on packages from a registry, and those of them that take the agreed version. */
  readonly requirements: number;
  readonly taking: number;
  readonly copies: number;
  /** Packages with several copies. */
  readonly several: number;
  /** Median, over the packages that projects require, of the days since the first release that they pass by. */
  readonly daysBehind: number;
  readonly byKind: Readonly<Record<FindingKind, number>>;
  readonly bySeverity: Readonly<Record<Severity, number>>;
}

const DAY_MS = 86_400_000;

/** @param findings those that are not muted. O(rows + findings). */
export function figuresOf(stand: Stand, findings: readonly Finding[]): Figures {
  const shared = stand.rows.filter(isShared);
  const requirements = (stand.workspace?.projects ?? [])
    .flatMap((project) => project.requirements)
    .filter(({ meaning }) => meaning.kind === 'range');
  return {
    projects: stand.workspace?.projects.length ?? 0,
    shared: shared.length,
    outOfLine: shared.filter(({ off }) => off > 0).length,
    requirements: requirements.length,
    taking: requirements.filter(({ written }) => written === 'shared').length,
    copies: stand.lock?.resolution?.copies.length ?? 0,
    several: stand.rows.filter(({ copies }) => copies > 1).length,
    daysBehind: median(stand.rows.flatMap((row) => daysBehind(stand, row))),
    byKind: count(
      FINDING_KINDS,
      findings.map(({ kind }) => kind),
    ),
    bySeverity: count(
      SEVERITIES,
      findings.map(({ severity }) => severity),
    ),
  };
}

function daysBehind(
  { records, today }: Stand,
  { name, usedBy, marks }: AlignmentRow,
): readonly number[] {
  const used = marks.at(-1)?.version;
  if (usedBy === 0 || used === undefined) return [];
  const at = requireVersion(used);
  const first = records
    .get(name)
    ?.releases.filter(
      ({ version, isWithdrawn, published }) =>
        compareVersions(version, at) > 0 &&
        !isWithdrawn &&
        !isPrerelease(version) &&
        published.slice(0, 10) <= today,
    )
    .map(({ published }) => published.slice(0, 10))
    .sort()[0];
  return [first === undefined ? 0 : Math.round((Date.parse(today) - Date.parse(first)) / DAY_MS)];
}

function median(values: readonly number[]): number {
  const sorted = [...values].sort((a, b) => a - b);
  return sorted[Math.floor(sorted.length / 2)] ?? 0;
}

function count<K extends string>(keys: readonly K[], found: readonly K[]): Record<K, number> {
  const counts = Object.fromEntries(keys.map((key) => [key, 0])) as Record<K, number>;
  for (const key of found) counts[key] += 1;
  return counts;
}
