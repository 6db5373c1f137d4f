import { MOST_NUMBERS, type VersionScheme } from './version-scheme.js';

/** A version of either scheme. Numbers are non-negative safe integers. */
export interface Version {
  readonly major: number;
  readonly minor: number;
  readonly patch: number;
  /** From the fourth number on, up to the last that is not 0. Always empty in SemVer. */
  readonly further: readonly number[];
  /** Numeric identifiers are numbers, all others strings. Empty for a release. */
  readonly prerelease: readonly (number | string)[];
  /** Without any weight in comparisons. */
  readonly build: readonly string[];
}

const NONE: readonly never[] = [];

/** A version without prerelease and build. */
export function release(major: number, minor: number, patch: number): Version {
  return { major, minor, patch, further: NONE, prerelease: NONE, build: NONE };
}

/** The version that has these numbers; those that are missing are 0. */
export function releaseOf(numbers: readonly number[]): Version {
  const [major = 0, minor = 0, patch = 0, ...rest] = numbers;
  const last = rest.findLastIndex((one) => one !== 0);
  return { ...release(major, minor, patch), further: last < 0 ? NONE : rest.slice(0, last + 1) };
}

/** All numbers that a version of a scheme can have. */
export function numbersOf(version: Version, scheme: VersionScheme): readonly number[] {
  const { major, minor, patch, further } = version;
  const missing = MOST_NUMBERS[scheme] - 3 - further.length;
  return [major, minor, patch, ...further, ...Array<number>(Math.max(0, missing)).fill(0)];
}

/** The version without its prerelease and build: the first release at or after it. */
export function releaseFrom({ major, minor, patch, further }: Version): Version {
  return { major, minor, patch, further, prerelease: NONE, build: NONE };
}

/** The point right below a release's own prereleases, as the open end of an interval. */
export function firstPrerelease(version: Version): Version {
  return { ...releaseFrom(version), prerelease: [0] };
}

/** The smallest of all versions: `0.0.0-0`. */
export const LOWEST: Version = firstPrerelease(release(0, 0, 0));

export function isPrerelease(version: Version): boolean {
  return version.prerelease.length > 0;
}

/** Is it the same but for prerelease and build? */
export function hasSameNumbers(a: Version, b: Version): boolean {
  return compareNumbers(a, b) === 0;
}

/**
 * Below 0, 0 or above 0 as `a` stands before, with or after `b`. Build metadata has no weight.
 * Source: Semantic Versioning 2.0.0, item 11, with as many numbers as there are.
 */
export function compareVersions(a: Version, b: Version): number {
  return compareNumbers(a, b) || comparePrereleases(a.prerelease, b.prerelease);
}

function compareNumbers(a: Version, b: Version): number {
  return (
    a.major - b.major ||
    a.minor - b.minor ||
    a.patch - b.patch ||
    (a.further.length === 0 && b.further.length === 0 ? 0 : compareFurther(a.further, b.further))
  );
}

function compareFurther(a: readonly number[], b: readonly number[]): number {
  const most = Math.max(a.length, b.length);
  for (let i = 0; i < most; i++) {
    const order = (a[i] ?? 0) - (b[i] ?? 0);
    if (order !== 0) return order;
  }
  return 0;
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

/** A text that `requireVersion` reads back, with three numbers at least. */
export function printVersion(version: Version): string {
  const { major, minor, patch, further, prerelease } = version;
  const pre = prerelease.length > 0 ? `-${prerelease.join('.')}` : '';
  const build = version.build.length > 0 ? `+${version.build.join('.')}` : '';
  return `${[major, minor, patch, ...further].join('.')}${pre}${build}`;
}

/** The end of all releases that have these numbers up to one, that one included. */
export function endOf(numbers: readonly number[], at: number): Version {
  return releaseOf([...numbers.slice(0, at), numbers[at]! + 1]);
}

/** The end of what a caret admits: it keeps the leftmost number that is not zero, or the last one written. */
export function caretEndOf(numbers: readonly number[]): Version {
  const at = numbers.findIndex((one) => one !== 0);
  return endOf(numbers, at < 0 ? numbers.length - 1 : at);
}

/** The release whose last number is one more, or as many more as said. */
export function nextRelease(version: Version, scheme: VersionScheme, step = 1): Version {
  const numbers = numbersOf(version, scheme);
  return releaseOf([...numbers.slice(0, -1), numbers.at(-1)! + step]);
}

/** The release that another one comes right after, where it is the shorter text: 1.2.0 before 1.2.0.0.0.1. Null: none. */
export function releaseBefore(version: Version, scheme: VersionScheme): Version | null {
  const isShorter = scheme === 'dotted' && numbersOf(version, scheme).at(-1) === 1;
  return isShorter ? nextRelease(version, scheme, -1) : null;
}

/** The version of a scheme right after this one: none lies between them. */
export function nextVersion(version: Version, scheme: VersionScheme): Version {
  if (isPrerelease(version))
    return { ...version, prerelease: [...version.prerelease, 0], build: NONE };
  return firstPrerelease(nextRelease(version, scheme));
}
