import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { parseVersion, requireVersion } from './parse-version.js';
import { versionProblemMessage } from './version-problem.js';
import { compareVersions, nextVersion, printVersion } from './version.js';
import { anySpelling, anyVersion, GRIDS, VERSIONS } from './version.arbitrary.js';
import { versionStep } from './version-step.js';
import { VERSION_SCHEMES } from './version-scheme.js';

describe('order', () => {
  test('is that of SemVer 2.0.0, item 11', () => {
    const ascending = [
      '0.0.0-0',
      '1.0.0-alpha',
      '1.0.0-alpha.1',
      '1.0.0-alpha.beta',
      '1.0.0-beta',
      '1.0.0-beta.2',
      '1.0.0-beta.11',
      '1.0.0-rc.1',
      '1.0.0',
      '1.0.1',
      '1.2.0',
      '1.10.0',
      '2.0.0',
    ].map(requireVersion);
    const shuffled = [...ascending].reverse().sort(compareVersions);
    expect(shuffled.map(printVersion)).toEqual(ascending.map(printVersion));
  });

  test('gives build metadata no weight', () => {
    expect(compareVersions(requireVersion('1.0.0+a'), requireVersion('1.0.0+b'))).toBe(0);
  });

  test('of dotted versions goes number by number, and prereleases before their release', () => {
    const ascending = [
      '1',
      '1.0.0.0.0.1',
      '1.0.1.4',
      '1.2b1',
      '1.2b2',
      '1.2b10',
      '1.2-rc.1',
      '1.2',
      '1.2.0.1',
      '1.10',
      '2024.1',
      '2024.11.03',
    ].map(requireVersion);
    const shuffled = [...ascending].reverse().sort(compareVersions);
    expect(shuffled.map(printVersion)).toEqual(ascending.map(printVersion));
  });

  test.each(VERSION_SCHEMES)('no %s version lies between one and the next', (scheme) => {
    fc.assert(
      fc.property(VERSIONS[scheme], (version) => {
        const next = nextVersion(version, scheme);
        expect(compareVersions(version, next)).toBeLessThan(0);
        const between = GRIDS[scheme].filter(
          (v) => compareVersions(version, v) < 0 && compareVersions(v, next) < 0,
        );
        expect(between).toEqual([]);
      }),
    );
  });
});

describe('reading', () => {
  test('gives back what printing wrote', () => {
    fc.assert(
      fc.property(anyVersion, (version) => {
        expect(requireVersion(printVersion(version))).toEqual(version);
      }),
    );
  });

  test('takes every spelling of a dotted version for the same version', () => {
    const spelt = VERSIONS.dotted.chain((version) =>
      fc.tuple(fc.constant(version), anySpelling(version)),
    );
    fc.assert(
      fc.property(spelt, ([version, text]) => {
        expect(parseVersion(text, 'dotted')).toEqual({ ok: true, value: version });
      }),
    );
  });

  test.each([
    ['1.2.3.4.5.6.7', 'UNEXPECTED_TEXT', 11],
    ['1.x', 'VERSION_INCOMPLETE', 0],
    ['1.', 'VERSION_INCOMPLETE', 0],
    ['1.2-', 'IDENTIFIER_EMPTY', 4],
    ['1.2b1-2', 'UNEXPECTED_TEXT', 5],
    ['v1', 'VERSION_LEADING_V', 0],
    ['b1', 'VERSION_EXPECTED', 0],
  ])('refuses %j as a dotted version', (text, code, start) => {
    const parsed = parseVersion(text, 'dotted');
    expect(parsed.ok ? null : [parsed.problem.code, parsed.problem.span[0]]).toEqual([code, start]);
  });

  test('keeps build metadata', () => {
    expect(printVersion(requireVersion('1.2.3-rc.1+build.007'))).toBe('1.2.3-rc.1+build.007');
  });

  test.each([
    ['', 'VERSION_EXPECTED', 0],
    ['v1.2.3', 'VERSION_LEADING_V', 0],
    ['1.2', 'VERSION_INCOMPLETE', 0],
    ['1.2.', 'VERSION_INCOMPLETE', 0],
    ['1.x.0', 'NUMBER_AFTER_ANY', 4],
    ['1.02.3', 'LEADING_ZERO', 2],
    ['1.2.3-01', 'LEADING_ZERO', 6],
    ['1.2.3-', 'IDENTIFIER_EMPTY', 6],
    ['1.2.3-a..b', 'IDENTIFIER_EMPTY', 8],
    ['1.2.3+', 'IDENTIFIER_EMPTY', 6],
    ['1.2.3 ', 'UNEXPECTED_TEXT', 5],
    ['1.2.3.4', 'UNEXPECTED_TEXT', 5],
    ['99999999999999999999.0.0', 'NUMBER_TOO_LARGE', 0],
    ['latest', 'VERSION_EXPECTED', 0],
  ])('refuses %j with a code and a place', (text, code, start) => {
    const parsed = parseVersion(text);
    expect(parsed.ok ? null : [parsed.problem.code, parsed.problem.span[0]]).toEqual([code, start]);
    if (!parsed.ok) expect(versionProblemMessage(parsed.problem)).toMatch(/\w/);
  });
});

test.each([
  ['1.2.3', '1.2.3', 'none'],
  ['1.2.3', '1.2.4', 'patch'],
  ['1.2.3', '1.3.0', 'minor'],
  ['1.2.3', '2.0.0', 'major'],
  ['1.2.3-a', '1.2.3', 'prerelease'],
  ['0.2.3', '0.3.0', 'major'],
  ['0.2.3', '0.2.4', 'patch'],
  ['1.2', '1.2.0', 'none'],
  ['1.2.3.4', '1.2.3.5', 'patch'],
  ['1.2', '1.3.0.1', 'minor'],
])('from %s to %s is a step of %s', (a, b, step) => {
  expect(versionStep(requireVersion(a), requireVersion(b))).toBe(step);
});
