/** A SemVer 2.0.0 version. Numbers are non-negative safe integers. */
export interface Version {
  readonly major: number;
  readonly minor: number;
  readonly patch: number;
  /** Numeric identifiers are numbers, all others strings. Empty for a release. */
  readonly prerelease: readonly (number | string)[];
  /** Without any weight in comparisons. */
  readonly build: readonly string[];
}

/** A version without prerelease and build. */
export function release(major: number, minor: number, patch: number): Version {
  return { major, minor, patch, prerelease: [], build: [] };
}

/** The smallest of all versions: `0.0.0-0`. */
export const LOWEST: Version = { ...release(0, 0, 0), prerelease: [0] };

export function isPrerelease(version: Version): boolean {
  return version.prerelease.length > 0;
}

/** The same major.minor.patch? */
export function isSameTriple(a: Version, b: Version): boolean {
  return a.major === b.major && a.minor === b.minor && a.patch === b.patch;
}

/**
 * Below 0, 0 or above 0 as `a` stands before, with or after `b`. Build metadata has no weight.
 * Source: Semantic Versioning 2.0.0, item 11.
 */
export function compareVersions(a: Version, b: Version): number {
  return (
    a.major - b.major ||
    a.minor - b.minor ||
    a.patch - b.patch ||
    comparePrereleases(a.prerelease, b.prerelease)
  );
}

function comparePrereleases(
  a: readonly (number | string)[],
  b: readonly (number | string)[],
): number {
  if (a.length === 0 || b.length === 0) return b.length - a.length;
  const shared = Math.min(a.length, b.length);
  for (let i = 0; i < shared; i++) {
    const order = compareIdentifiers(a[i]!, b[i]!);
    if (order !== 0) return order;
  }
  return a.length - b.length;
}

function compareIdentifiers(a: number | string, b: number | string): number {
  if (typeof a === 'number') return typeof b === 'number' ? a - b : -1;
  if (typeof b === 'number') return 1;
  return a < b ? -1 : a > b ? 1 : 0;
}

export function isSameVersion(a: Version, b: Version): boolean {
  return compareVersions(a, b) === 0;
}

/** The text that `parseVersion` reads back. */
export function printVersion(version: Version): string {
  const pre = version.prerelease.length > 0 ? `-${version.prerelease.join('.')}` : '';
  const build = version.build.length > 0 ? `+${version.build.join('.')}` : '';
  return `${version.major}.${version.minor}.${version.patch}${pre}${build}`;
}

/** The version right after this one: none lies between them. */
export function nextVersion(version: Version): Version {
  if (isPrerelease(version)) {
    return { ...version, prerelease: [...version.prerelease, 0], build: [] };
  }
  return { ...release(version.major, version.minor, version.patch + 1), prerelease: [0] };
}
