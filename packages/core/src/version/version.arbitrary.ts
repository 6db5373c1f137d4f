import fc from 'fast-check';
import { firstPrerelease, release, releaseOf, type Version } from './version.js';
import type { VersionScheme } from './version-scheme.js';

const number = fc.integer({ min: 0, max: 3 });
const small = fc.integer({ min: 0, max: 1 });
const identifier = fc.oneof(fc.integer({ min: 0, max: 2 }), fc.constantFrom('a', 'b', 'a-1'));

export const anyRelease = fc.tuple(number, number, number).map(([a, b, c]) => release(a, b, c));

/** One to six numbers. */
const anyDotted = fc.array(small, { minLength: 1, maxLength: 6 }).map((all) => {
  const [a = 0, b = 0, c = 0, d = 0, , f = 0] = all;
  return releaseOf([a, b, c, d, 0, f]);
});

export const RELEASES: Readonly<Record<VersionScheme, fc.Arbitrary<Version>>> = {
  semver: anyRelease,
  dotted: anyDotted,
};

function withPrereleases(base: fc.Arbitrary<Version>): fc.Arbitrary<Version> {
  return fc
    .record({ base, prerelease: fc.array(identifier, { maxLength: 2 }) })
    .map(({ base: numbers, prerelease }) => ({ ...numbers, prerelease }));
}

export const anyVersion = withPrereleases(anyRelease);

export const VERSIONS: Readonly<Record<VersionScheme, fc.Arbitrary<Version>>> = {
  semver: anyVersion,
  dotted: withPrereleases(anyDotted),
};

/** Each combination of one from each list. */
function combinations(lists: readonly (readonly number[])[]): readonly (readonly number[])[] {
  return lists.reduce<readonly (readonly number[])[]>(
    (all, list) => all.flatMap((one) => list.map((next) => [...one, next])),
    [[]],
  );
}

function grid(lists: readonly (readonly number[])[]): readonly Version[] {
  return combinations(lists).flatMap((numbers) => {
    const base = releaseOf(numbers);
    const prereleases: Version['prerelease'][] = [
      [],
      [1],
      [2],
      ['a'],
      ['a', 0],
      ['a', 'a'],
      ['a-1'],
      ['b'],
      ['b', 2],
    ];
    return [firstPrerelease(base), ...prereleases.map((prerelease) => ({ ...base, prerelease }))];
  });
}

const UP_TO_4 = [0, 1, 2, 3, 4];
const UP_TO_2 = [0, 1, 2];

/** Every version with one number more than is made above, and none or one of a few prereleases: dense enough to hit every bound. */
export const GRIDS: Readonly<Record<VersionScheme, readonly Version[]>> = {
  semver: grid([UP_TO_4, UP_TO_4, UP_TO_4]),
  dotted: grid([UP_TO_2, UP_TO_2, UP_TO_2, UP_TO_2, [0], UP_TO_2]),
};

/** One version in a spelling of dotted: without numbers that are 0 at its end, with leading zeros, its prerelease glued on. */
export function anySpelling(version: Version): fc.Arbitrary<string> {
  const { major, minor, patch, further, prerelease } = version;
  const numbers = [major, minor, patch, ...further];
  const needed = Math.max(1, numbers.findLastIndex((one) => one !== 0) + 1);
  const isGluable =
    typeof prerelease[0] === 'string' &&
    prerelease.every((one) => /^(\d+|[a-z]+)$/.test(String(one)));
  return fc
    .record({
      count: fc.integer({ min: needed, max: 6 }),
      zeros: fc.array(small, { minLength: 6, maxLength: 6 }),
      isGlued: fc.boolean(),
      dots: fc.infiniteStream(fc.boolean()),
    })
    .map(({ count, zeros, isGlued, dots }) => {
      const written = Array.from(
        { length: count },
        (_, i) => `${'0'.repeat(zeros[i]!)}${numbers[i] ?? 0}`,
      ).join('.');
      if (prerelease.length === 0) return written;
      if (!isGlued || !isGluable) return `${written}-${prerelease.join('.')}`;
      const tail = prerelease.map((one, i) => {
        const isOtherKind = typeof one !== typeof prerelease[i - 1];
        return i === 0 || (isOtherKind && dots.next().value!) ? String(one) : `.${one}`;
      });
      return `${written}${tail.join('')}`;
    });
}
