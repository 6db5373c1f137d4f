/**
 * How the versions of a registry are written: `semver`, SemVer 2.0.0, three numbers; `dotted`, one to six numbers of
 * which those that are missing are 0. Their order is one: a SemVer version is a dotted one of three numbers.
 */
export const VERSION_SCHEMES = ['semver', 'dotted'] as const;
export type VersionScheme = (typeof VERSION_SCHEMES)[number];

/** How many numbers a version of a scheme can have. */
export const MOST_NUMBERS: Readonly<Record<VersionScheme, number>> = { semver: 3, dotted: 6 };

/**
 * Which prereleases a range admits: `named`, those of the numbers that one of its own bounds names as a prerelease;
 * `never`, none; `always`, all that lie between its bounds.
 */
export type PrereleasePolicy = 'named' | 'never' | 'always';

/** How a range is read: which prereleases it admits and, where it is not SemVer, the scheme of its versions. */
export type RangeReading = PrereleasePolicy | `dotted ${PrereleasePolicy}`;

/** The reading of ranges over versions of a scheme. */
export function readingOf(scheme: VersionScheme, policy: PrereleasePolicy): RangeReading {
  return scheme === 'semver' ? policy : `dotted ${policy}`;
}

export function schemeOfReading(reading: RangeReading): VersionScheme {
  return reading.startsWith('dotted') ? 'dotted' : 'semver';
}

export function policyOfReading(reading: RangeReading): PrereleasePolicy {
  return reading.slice(reading.indexOf(' ') + 1) as PrereleasePolicy;
}
