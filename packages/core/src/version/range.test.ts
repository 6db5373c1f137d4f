import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import {
  intervalSet,
  intervalSetContains,
  isSameIntervalSet,
  subtractIntervalSets,
} from './interval-set.js';
import { parseRange, requireRange } from './parse-range.js';
import { requireVersion } from './parse-version.js';
import { printRange, printVers } from './print-range.js';
import {
  intersectRanges,
  isEmptyRange,
  isSameRange,
  isSubrange,
  isUnbounded,
  rangeContains,
  subtractRanges,
  uniteRanges,
  type Range,
} from './range.js';
import { compareVersions, hasSameNumbers, printVersion, type Version } from './version.js';
import { GRIDS, RELEASES, VERSIONS } from './version.arbitrary.js';
import {
  policyOfReading,
  readingOf,
  schemeOfReading,
  VERSION_SCHEMES,
  type PrereleasePolicy,
  type VersionScheme,
} from './version-scheme.js';
import { versionProblemMessage } from './version-problem.js';

const POLICIES: readonly PrereleasePolicy[] = ['named', 'never', 'always'];
const READINGS = VERSION_SCHEMES.flatMap((scheme) => POLICIES.map((one) => readingOf(scheme, one)));

/** What a range allows on the grid, as one text for comparing. */
function members(range: Range, scheme: VersionScheme): string {
  return GRIDS[scheme]
    .filter((version) => rangeContains(range, version))
    .map(printVersion)
    .join(' ');
}

/** Expects a range to admit, of the grid, exactly the versions that a rule admits. */
function expectMembers(
  range: Range,
  scheme: VersionScheme,
  isIn: (version: Version) => boolean,
): void {
  const wrong = GRIDS[scheme].filter((v) => rangeContains(range, v) !== isIn(v));
  expect(wrong.map(printVersion)).toEqual([]);
}

/** A conjunction of plain comparators with a meaning that needs no interval at all. */
interface Comparator {
  readonly operator: '<' | '<=' | '>' | '>=' | '=';
  readonly version: Version;
}

function comparatorOf(scheme: VersionScheme): fc.Arbitrary<Comparator> {
  return fc.record({
    operator: fc.constantFrom('<', '<=', '>', '>=', '='),
    version: VERSIONS[scheme],
  });
}

function alternativesOf(scheme: VersionScheme): fc.Arbitrary<readonly (readonly Comparator[])[]> {
  const all = fc.array(comparatorOf(scheme), { minLength: 1, maxLength: 3 });
  return fc.array(all, { minLength: 1, maxLength: 3 });
}

function textOf(parts: readonly (readonly Comparator[])[]): string {
  return parts
    .map((all) => all.map((c) => c.operator + printVersion(c.version)).join(' '))
    .join(' || ');
}

function meets({ operator, version }: Comparator, v: Version): boolean {
  const order = compareVersions(v, version);
  switch (operator) {
    case '<':
      return order < 0;
    case '<=':
      return order <= 0;
    case '>':
      return order > 0;
    case '>=':
      return order >= 0;
    case '=':
      return order === 0;
  }
}

/** The rules of the page on ranges, word for word. */
function admits(
  parts: readonly (readonly Comparator[])[],
  v: Version,
  policy: PrereleasePolicy,
): boolean {
  return parts.some((all) => {
    if (!all.every((c) => meets(c, v))) return false;
    if (v.prerelease.length === 0 || policy === 'always') return true;
    if (policy === 'never') return false;
    return all.some((c) => c.version.prerelease.length > 0 && hasSameNumbers(c.version, v));
  });
}

/** Ranges of every form that people write. */
function writtenRangeOf(scheme: VersionScheme): fc.Arbitrary<string> {
  const anyOfScheme = VERSIONS[scheme];
  const anyRelease = RELEASES[scheme];
  return fc
    .array(
      fc.oneof(
        fc
          .tuple(fc.constantFrom('^', '~', '', '='), anyOfScheme)
          .map(([op, v]) => op + printVersion(v)),
        fc
          .tuple(
            fc.constantFrom('^', '~', '', '>', '>=', '<', '<='),
            anyRelease,
            fc.integer({ min: 1, max: 2 }),
          )
          .map(([op, v, parts]) => op + [v.major, v.minor, v.patch].slice(0, parts).join('.')),
        fc
          .tuple(anyRelease, anyOfScheme)
          .map(([a, b]) => `${a.major}.${a.minor} - ${printVersion(b)}`),
        anyRelease.map((v) => `${v.major}.x`),
        anyRelease.map((v) => `<=${printVersion(v).replace(/\d+$/, 'x')}`),
        fc.array(comparatorOf(scheme), { minLength: 1, maxLength: 2 }).map((all) => textOf([all])),
        fc.constant('*'),
      ),
      { minLength: 1, maxLength: 3 },
    )
    .map((parts) => parts.join(' || '))
    .filter((text) => parseRange(text, readingOf(scheme, 'named')).ok);
}

function anyRangeOf(scheme: VersionScheme): fc.Arbitrary<Range> {
  return writtenRangeOf(scheme).map((text) => requireRange(text, readingOf(scheme, 'named')));
}

describe('a range of comparators', () => {
  test.each(READINGS)('admits what its comparators admit, under %s', (reading) => {
    const scheme = schemeOfReading(reading);
    fc.assert(
      fc.property(alternativesOf(scheme), (parts) => {
        const parsed = parseRange(textOf(parts), reading);
        fc.pre(parsed.ok);
        if (!parsed.ok) return;
        expectMembers(parsed.value, scheme, (v) => admits(parts, v, policyOfReading(reading)));
      }),
    );
  });

  test.each(VERSION_SCHEMES)(
    'is refused only where no %s version meets one of its alternatives',
    (scheme) => {
      fc.assert(
        fc.property(alternativesOf(scheme), (parts) => {
          const parsed = parseRange(textOf(parts), readingOf(scheme, 'named'));
          const isRefused = !parsed.ok && parsed.problem.code === 'RANGE_EMPTY';
          if (isRefused)
            expect(
              parts.some((all) => !GRIDS[scheme].some((v) => all.every((c) => meets(c, v)))),
            ).toBe(true);
          else expect(parsed.ok).toBe(true);
        }),
      );
    },
  );
});

describe.each(VERSION_SCHEMES)('algebra over %s versions', (scheme) => {
  const anyRange = anyRangeOf(scheme);

  test('of ranges is that of the sets they stand for', () => {
    fc.assert(
      fc.property(anyRange, anyRange, (a, b) => {
        expectMembers(
          intersectRanges(a, b),
          scheme,
          (v) => rangeContains(a, v) && rangeContains(b, v),
        );
        expectMembers(uniteRanges(a, b), scheme, (v) => rangeContains(a, v) || rangeContains(b, v));
        expectMembers(
          subtractRanges(a, b),
          scheme,
          (v) => rangeContains(a, v) && !rangeContains(b, v),
        );
      }),
    );
  });

  test('knows subset, equal and empty exactly', () => {
    fc.assert(
      fc.property(anyRange, anyRange, (a, b) => {
        expect(isSubrange(a, uniteRanges(a, b))).toBe(true);
        expect(isSubrange(intersectRanges(a, b), b)).toBe(true);
        expect(isSubrange(a, b)).toBe(isEmptyRange(subtractRanges(a, b)));
        if (isSameRange(a, b)) expect(members(a, scheme)).toBe(members(b, scheme));
        expect(isSameRange(a, b)).toBe(isSubrange(a, b) && isSubrange(b, a));
        expect(isSameRange(uniteRanges(intersectRanges(a, b), subtractRanges(a, b)), a)).toBe(true);
      }),
    );
  });

  test('gives equal sets equal normal forms, whatever the order and overlap of the pieces', () => {
    const interval = fc.record({ from: VERSIONS[scheme], below: fc.option(VERSIONS[scheme]) });
    fc.assert(
      fc.property(
        fc.array(interval, { maxLength: 5 }),
        fc.array(interval, { maxLength: 5 }),
        (xs, ys) => {
          const a = intervalSet([...xs, ...ys]);
          const b = intervalSet([...ys.reverse(), ...xs, ...xs]);
          expect(isSameIntervalSet(a, b)).toBe(true);
          const [setX, setY] = [intervalSet(xs), intervalSet(ys)];
          const onlyX = subtractIntervalSets(setX, setY);
          const wrong = GRIDS[scheme].filter((v) => {
            const [inX, inY] = [intervalSetContains(setX, v), intervalSetContains(setY, v)];
            return (
              intervalSetContains(a, v) !== (inX || inY) ||
              intervalSetContains(onlyX, v) !== (inX && !inY)
            );
          });
          expect(wrong.map(printVersion)).toEqual([]);
        },
      ),
    );
  });
});

describe('printing', () => {
  test.each(READINGS)('reads back as the same set, under %s', (reading) => {
    const written = writtenRangeOf(schemeOfReading(reading));
    fc.assert(
      fc.property(written, written, (x, y) => {
        const [a, b] = [requireRange(x, reading), requireRange(y, reading)];
        for (const range of [a, uniteRanges(a, b), intersectRanges(a, b)]) {
          if (isEmptyRange(range)) continue;
          const text = printRange(range, reading);
          expect(text).not.toBeNull();
          expect(
            isSameRange(requireRange(text!, reading), range),
            `${x} and ${y} gave ${text}`,
          ).toBe(true);
        }
      }),
    );
  });

  test.each(READINGS)(
    'in VERS reads back as the same set wherever VERS can say it, under %s',
    (reading) => {
      let said = 0;
      fc.assert(
        fc.property(writtenRangeOf(schemeOfReading(reading)), (text) => {
          const range = requireRange(text, reading);
          const vers = printVers(range, reading);
          if (vers === null) return;
          said += 1;
          expect(isSameRange(requireRange(vers, reading), range), `${text} gave ${vers}`).toBe(
            true,
          );
        }),
      );
      expect(said).toBeGreaterThan(0);
    },
  );

  test.each([
    ['>=1.2.0 <2.0.0', '^1.2.0', 'vers:semver/>=1.2.0|<2.0.0'],
    ['1.2.x', '~1.2.0', 'vers:semver/>=1.2.0|<1.3.0'],
    ['=1.2.3', '1.2.3', 'vers:semver/1.2.3'],
    ['>=0.0.0', '*', 'vers:semver/*'],
    ['^1.0.0 || ^2.0.0', '>=1.0.0 <3.0.0', 'vers:semver/>=1.0.0|<3.0.0'],
    ['^1.0.0-beta.2', '^1.0.0-beta.2', 'vers:semver/>=1.0.0-beta.2|<2.0.0'],
    [
      'vers:semver/>=1.0.0|!=1.5.0|<2.0.0',
      '>=1.0.0 <1.5.0 || ^1.5.1',
      'vers:semver/>=1.0.0|<1.5.0|>=1.5.1|<2.0.0',
    ],
  ])('of %s is short', (text, short, vers) => {
    expect(printRange(requireRange(text))).toBe(short);
    expect(printVers(requireRange(text))).toBe(vers);
  });

  test.each([
    ['1.2', '1.2.0', 'vers:generic/1.2.0'],
    ['1.2.x', '~1.2.0', 'vers:generic/>=1.2.0|<1.3.0'],
    ['>1.2', '>1.2.0', 'vers:generic/>=1.2.0.0.0.1'],
    ['<=2.0.4.1', '<=2.0.4.1', 'vers:generic/<2.0.4.1.0.1'],
    ['>1 <=1.4.2', '>1.0.0 <=1.4.2', 'vers:generic/>=1.0.0.0.0.1|<1.4.2.0.0.1'],
    ['^2.0b1', '^2.0.0-b.1', 'vers:generic/>=2.0.0-b.1|<3.0.0'],
    ['^1.0.0.4', '^1.0.0.4', 'vers:generic/>=1.0.0.4|<2.0.0'],
  ])('of dotted %s is short', (text, short, vers) => {
    const range = requireRange(text, 'dotted named');
    expect(printRange(range, 'dotted named')).toBe(short);
    expect(printVers(range, 'dotted named')).toBe(vers);
  });
});

describe('meaning', () => {
  test.each([
    ['^1.2.3', '1.2.3 1.9.9', '1.2.2 2.0.0 2.0.0-0 1.3.0-a'],
    ['^0.2.3', '0.2.3 0.2.9', '0.3.0 1.0.0'],
    ['^0.0.3', '0.0.3', '0.0.4'],
    ['^0.0', '0.0.0 0.0.9', '0.1.0'],
    ['^0', '0.0.0 0.9.9', '1.0.0'],
    ['~1.2.3', '1.2.3 1.2.9', '1.3.0'],
    ['~1', '1.0.0 1.9.0', '2.0.0'],
    ['>1.2', '1.3.0', '1.2.9'],
    ['<=1.2', '1.2.9', '1.3.0 1.3.0-a'],
    ['1.2.3 - 2.3', '1.2.3 2.3.9', '2.4.0'],
    ['1.2 - 2.0.0', '1.2.0 2.0.0', '2.0.1 1.1.9'],
    ['>=1.0.0-b <1.5.0', '1.0.0-b 1.0.0 1.4.0', '1.0.0-a 1.2.0-a 1.5.0'],
    ['^1.2.3-rc.1', '1.2.3-rc.1 1.2.3-rc.2 1.3.0', '1.2.3-a 1.3.0-rc.1'],
    ['<2.0.0 || >=1.0.0-b <1.0.0', '1.0.0-b 0.1.0', '1.0.0-a'],
    ['>= 1.2.3   < 2', '1.2.3', '2.0.0'],
    ['vers:semver/<1.0.0|2.0.0', '0.5.0 2.0.0', '1.0.0 2.0.1'],
    ['vers:semver/!=1.0.0', '0.9.0 1.0.1', '1.0.0'],
  ])('of %s', (text, inside, outside) => {
    const range = requireRange(text);
    for (const v of inside.split(' '))
      expect(rangeContains(range, requireVersion(v)), v).toBe(true);
    for (const v of outside.split(' '))
      expect(rangeContains(range, requireVersion(v)), v).toBe(false);
  });

  test.each([
    ['1.2', '1.2 1.02.0', '1.2.1 1.2.0.1 1.2b1'],
    ['=1.2', '1.2.0.0', '1.2.0.0.0.1'],
    ['1.2.x', '1.2 1.2.9.4', '1.3'],
    ['>1.2', '1.2.0.0.0.1 1.3', '1.2 1.2.0'],
    ['<=1.2', '1.2 1.1.9', '1.2.1'],
    ['1.2 - 2.3', '1.2 2.3', '2.3.0.1'],
    ['^1.2', '1.2 1.9.9.9', '2 2.0b1 1.1'],
    ['^0.0.3.2', '0.0.3.2 0.0.3.9', '0.0.4 0.0.3.1'],
    ['^0.0.0.0.5', '0.0.0.0.5.7', '0.0.0.0.6'],
    ['~1', '1 1.9', '2'],
    ['~1.2.3.4', '1.2.3.4 1.2.9', '1.3 1.2.3.3'],
    ['^2024.01', '2024.1 2024.11.03', '2025.1'],
    ['>=2.0rc1 <2.1', '2.0rc1 2.0-rc.2 2.0rc10 2.0', '2.0b9 2.1b1'],
    ['vers:generic/>=1.2|<2', '1.2 1.9.9', '2.0'],
  ])('of dotted %s', (text, inside, outside) => {
    const range = requireRange(text, 'dotted named');
    for (const v of inside.split(' '))
      expect(rangeContains(range, requireVersion(v)), v).toBe(true);
    for (const v of outside.split(' '))
      expect(rangeContains(range, requireVersion(v)), v).toBe(false);
  });

  test('says which ranges have no upper end', () => {
    expect(
      ['*', '>=1', '^1', '<2', '^1 || >3'].filter((text) => isUnbounded(requireRange(text))),
    ).toEqual(['*', '>=1', '^1 || >3']);
  });
});

describe('what is no range is refused with a code and a place:', () => {
  test.each([
    ['', 'RANGE_BLANK', 0, 0],
    ['   ', 'RANGE_BLANK', 0, 3],
    ['^1.0.0 ||', 'ALTERNATIVE_BLANK', 9, 9],
    ['|| 1', 'ALTERNATIVE_BLANK', 0, 2],
    ['^1 | ^2', 'OPERATOR_UNKNOWN', 3, 4],
    ['latest', 'VERSION_EXPECTED', 0, 6],
    ['^v1.2.3', 'VERSION_LEADING_V', 1, 2],
    ['~>1.2', 'OPERATOR_UNKNOWN', 0, 2],
    ['!=1.2.3', 'OPERATOR_UNKNOWN', 0, 2],
    ['=>1.2.3', 'OPERATOR_UNKNOWN', 0, 2],
    ['^*', 'OPERATOR_ON_ANY', 0, 2],
    ['>=1.0.0, <2.0.0', 'COMMA', 7, 8],
    ['>2 <1', 'RANGE_EMPTY', 0, 5],
    ['^1 || >2.0.0 <2.0.0', 'RANGE_EMPTY', 6, 19],
    ['1.2-beta', 'PRERELEASE_ON_PART', 0, 8],
    ['1.x.3', 'NUMBER_AFTER_ANY', 4, 5],
    ['1.2.3 - ^2', 'HYPHEN_BOUND', 8, 10],
    ['1.2.3foo', 'UNEXPECTED_TEXT', 5, 8],
    ['vers:deb/1', 'VERS_SCHEME', 0, 9],
    ['vers:semver/>=2.0.0|<1.0.0', 'VERS_ORDER', 20, 26],
    ['vers:semver/>=1.0.0|<1.0.0', 'VERS_TWICE', 20, 26],
    ['vers:semver/>=1.0.0|>=2.0.0', 'VERS_ORDER', 20, 27],
    ['vers:semver/%zz', 'VERS_ESCAPE', 12, 15],
    ['vers:semver/', 'VERSION_EXPECTED', 12, 12],
  ])('%j', (text, code, start, end) => {
    const parsed = parseRange(text);
    expect(parsed.ok ? null : [parsed.problem.code, ...parsed.problem.span]).toEqual([
      code,
      start,
      end,
    ]);
    if (!parsed.ok) expect(versionProblemMessage(parsed.problem).length).toBeGreaterThan(20);
  });

  test('random text never crashes and never passes as everything', () => {
    const piece = fc.constantFrom(
      '^',
      '~',
      '1',
      '.',
      'x',
      '*',
      '-',
      ' ',
      '|',
      '||',
      '>',
      '<',
      '=',
      'v',
      'a',
      '0',
      ',',
      'vers:semver/',
      '%',
      '+',
    );
    fc.assert(
      fc.property(
        fc.array(piece, { maxLength: 12 }).map((p) => p.join('')),
        (text) => {
          const parsed = parseRange(text);
          if (parsed.ok && isSameRange(parsed.value, requireRange('*')))
            expect(text).toMatch(/[*xX]|>|<|!|\|\|/);
        },
      ),
    );
  });
});
