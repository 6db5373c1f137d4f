import {
  intersectIntervalSets,
  intervalSet,
  intervalSetContains,
  isSameIntervalSet,
  subtractIntervalSets,
  type Interval,
  type IntervalSet,
} from './interval-set.js';
import { isPrerelease, LOWEST, nextVersion, release, type Version } from './version.js';

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

/**
 * Which prereleases a range admits: `named`, those of a major.minor.patch that one of its own bounds
 * names as a prerelease; `never`, none; `always`, all that lie between its bounds.
 */
export type PrereleasePolicy = 'named' | 'never' | 'always';

export const NO_VERSION: Range = { releases: [], prereleases: [] };

/** The first release at or after a version. */
function releaseFrom(version: Version): Version {
  return release(version.major, version.minor, version.patch);
}

/** The first prerelease at or after a version. */
function prereleaseFrom(version: Version): Version {
  return isPrerelease(version) ? version : nextVersion(version);
}

/**
 * The versions between two bounds under a policy.
 * @param named bounds as written that name a prerelease
 */
export function rangeOfInterval(
  { from, below }: Interval,
  named: readonly Version[],
  policy: PrereleasePolicy,
): Range {
  const releases = intervalSet([{ from: releaseFrom(from), below: below && releaseFrom(below) }]);
  if (policy === 'never') return { releases, prereleases: [] };
  const between = intervalSet([
    { from: prereleaseFrom(from), below: below && prereleaseFrom(below) },
  ]);
  if (policy === 'always') return { releases, prereleases: between };
  const admitted = intervalSet(
    named.map((bound) => ({
      from: { ...releaseFrom(bound), prerelease: [0] },
      below: nextVersion(releaseFrom(bound)),
    })),
  );
  return { releases, prereleases: intersectIntervalSets(between, admitted) };
}

/** Every release, and under `always` every prerelease. */
export function everyVersion(policy: PrereleasePolicy = 'named'): Range {
  return rangeOfInterval({ from: LOWEST, below: null }, [], policy);
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
