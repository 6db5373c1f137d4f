import {
  intersectIntervalSets,
  intervalSet,
  intervalSetContains,
  isSameIntervalSet,
  subtractIntervalSets,
  type Interval,
  type IntervalSet,
} from './interval-set.js';
import {
  firstPrerelease,
  isPrerelease,
  LOWEST,
  nextVersion,
  releaseFrom,
  type Version,
} from './version.js';
import {
  policyOfReading,
  schemeOfReading,
  type RangeReading,
  type VersionScheme,
} from './version-scheme.js';

/**
 * A set of versions in normal form: equal sets have equal parts, so every question below is exact.
 * Releases and prereleases are kept apart, because a range admits only some of the prereleases
 * that lie between its bounds. All ends of `releases` are releases, all ends of `prereleases`
 * are prereleases (of those only the prereleases within count).
 */
export interface Range {
  readonly releases: IntervalSet;
  readonly prereleases: IntervalSet;
}

export const NO_VERSION: Range = { releases: [], prereleases: [] };

/** The first prerelease at or after a version. */
function prereleaseFrom(version: Version, scheme: VersionScheme): Version {
  return isPrerelease(version) ? version : nextVersion(version, scheme);
}

/**
 * The versions between two bounds as a reading has them.
 * @param named bounds as written that name a prerelease
 */
export function rangeOfInterval(
  { from, below }: Interval,
  named: readonly Version[],
  reading: RangeReading,
): Range {
  const policy = policyOfReading(reading);
  const scheme = schemeOfReading(reading);
  const releases = intervalSet([{ from: releaseFrom(from), below: below && releaseFrom(below) }]);
  if (policy === 'never') return { releases, prereleases: [] };
  const between = intervalSet([
    { from: prereleaseFrom(from, scheme), below: below && prereleaseFrom(below, scheme) },
  ]);
  if (policy === 'always') return { releases, prereleases: between };
  const admitted = intervalSet(
    named.map((bound) => ({
      from: firstPrerelease(bound),
      below: nextVersion(releaseFrom(bound), scheme),
    })),
  );
  return { releases, prereleases: intersectIntervalSets(between, admitted) };
}

/** Every release, and under `always` every prerelease. */
export function everyVersion(reading: RangeReading = 'named'): Range {
  return rangeOfInterval({ from: LOWEST, below: null }, [], reading);
}

export function rangeContains(range: Range, version: Version): boolean {
  return intervalSetContains(isPrerelease(version) ? range.prereleases : range.releases, version);
}

export function isEmptyRange(range: Range): boolean {
  return range.releases.length === 0 && range.prereleases.length === 0;
}

export function intersectRanges(a: Range, b: Range): Range {
  return {
    releases: intersectIntervalSets(a.releases, b.releases),
    prereleases: intersectIntervalSets(a.prereleases, b.prereleases),
  };
}

export function uniteRanges(a: Range, b: Range): Range {
  return {
    releases: intervalSet([...a.releases, ...b.releases]),
    prereleases: intervalSet([...a.prereleases, ...b.prereleases]),
  };
}

/** All of `a` that `b` does not admit. */
export function subtractRanges(a: Range, b: Range): Range {
  return {
    releases: subtractIntervalSets(a.releases, b.releases),
    prereleases: subtractIntervalSets(a.prereleases, b.prereleases),
  };
}

/** Does `outer` admit every version that `inner` admits? */
export function isSubrange(inner: Range, outer: Range): boolean {
  return isEmptyRange(subtractRanges(inner, outer));
}

export function isSameRange(a: Range, b: Range): boolean {
  return (
    isSameIntervalSet(a.releases, b.releases) && isSameIntervalSet(a.prereleases, b.prereleases)
  );
}

/** Has the range no upper bound, so that a release of any later major is admitted? */
export function isUnbounded(range: Range): boolean {
  return range.releases.at(-1)?.below === null;
}
