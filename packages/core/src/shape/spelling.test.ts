import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { isSameRange, readingOf, requireRange, VERSION_SCHEMES } from '../version/index.js';
import { PLAIN_SPELLING, rangeOfIntervals, spelt, writtenOf, type Spelling } from './spelling.js';

const spelling = (change: Partial<Spelling>): Spelling => ({ ...PLAIN_SPELLING, ...change });

describe('interval notation', () => {
  test.each([
    ['[1.2,2.0)', '>=1.2.0 <2.0.0'],
    ['(1.2.3,2]', '>1.2.3 <=2.0.0'],
    ['[1.0]', '1.0.0'],
    ['[1,)', '>=1.0.0'],
    ['(,2)', '<2.0.0'],
    ['(,)', '*'],
    ['[1,2),[3.0.0-rc.1,4)', '>=1.0.0 <2.0.0 || >=3.0.0-rc.1 <4.0.0'],
    [' [ 1 , 2 ) ', '>=1.0.0 <2.0.0'],
  ])('%s is %s', (text, range) => {
    expect(rangeOfIntervals(text)).toBe(range);
  });

  test.each(['', '[', '[1.0)', '(1.0]', '[1,2', '1.0', '[a,b)', '[1,2)[3,4)', '[1,2),', '[2,1)'])(
    '"%s" is none',
    (text) => {
      expect(rangeOfIntervals(text)).toBeNull();
    },
  );

  test('a long text that is none is refused in linear time', () => {
    expect(rangeOfIntervals(`${'[1,2),'.repeat(50_000)}x`)).toBeNull();
  });
});

describe('what a text says', () => {
  test.each<[Partial<Spelling>, string, string | null]>([
    [{}, '^1.0.0', '^1.0.0'],
    [{}, '../lib', null],
    [{}, 'https://example.test/a.tgz', null],
    [{ bare: 'caret' }, '1.2.3', '^1.2.3'],
    [{ bare: 'at-least' }, '1.2.3', '>=1.2.3'],
    [{ bare: 'exact' }, '1.2.3', '1.2.3'],
    [{ ranges: 'interval' }, '[1,2)', '>=1.0.0 <2.0.0'],
    [{ ranges: 'interval' }, '^1.0.0', null],
    [{ ranges: 'interval', bare: 'at-least' }, '1.2.3', '>=1.2.3'],
    [{ ranges: 'vers' }, 'vers:semver/>=1.0.0|<2.0.0', 'vers:semver/>=1.0.0|<2.0.0'],
    [{ ranges: 'vers' }, '^1.0.0', null],
    [{ shared: '@agreed' }, '@agreed', 'shared'],
    [{ shared: '${v.{name}}' }, '${v.log}', 'shared'],
    [{ shared: '${v.{name}}' }, '${v.other}', null],
    [{ workspace: 'here' }, 'here', 'workspace'],
    [{ bare: 'caret' }, '1.2', '1.2'],
    [{ bare: 'caret', versions: 'dotted' }, '1.2', '^1.2'],
    [{ versions: 'dotted' }, '2.0b1', '2.0b1'],
    [{ ranges: 'interval', versions: 'dotted' }, '(1.2,2.0.4.1]', '>1.2.0 <=2.0.4.1'],
  ])('%j: "%s" is %s', (change, text, written) => {
    expect(writtenOf(spelling(change), 'log', text)).toBe(written);
  });
});

const anySpelling = fc.record({
  ranges: fc.constantFrom('semver' as const, 'interval' as const, 'vers' as const),
  versions: fc.constantFrom(...VERSION_SCHEMES),
  bare: fc.constantFrom(null, 'exact' as const, 'at-least' as const, 'caret' as const),
  shared: fc.constantFrom(null, '@agreed', '{name} as agreed'),
  workspace: fc.constantFrom(null, 'here'),
});
const anyVersion = fc.tuple(fc.nat(3), fc.nat(3), fc.nat(3)).map((numbers) => numbers.join('.'));
const anyRange = fc.oneof(
  anyVersion.chain((version) =>
    fc.constantFrom(version, `^${version}`, `~${version}`, `>=${version}`),
  ),
  fc.tuple(anyVersion, anyVersion).map(([a, b]) => `>=${a} || ${b}`),
  fc.constantFrom('*', '^1.0.0 || ^3.0.0', '>1.0.0 <=2.0.0', '^2.0.0-rc.1'),
);

test('what can be spelt reads back as meant, in every spelling', () => {
  fc.assert(
    fc.property(anySpelling, fc.oneof(anyRange, fc.constant('shared')), (spelling, written) => {
      const text = spelt(spelling, 'log', written);
      if (written === 'shared') {
        expect(text === null).toBe(spelling.shared === null);
        if (text !== null) expect(writtenOf(spelling, 'log', text)).toBe('shared');
        return;
      }
      // Only what has prereleases cannot be said in intervals.
      if (text === null) {
        expect(written).toContain('-rc');
        return;
      }
      const back = writtenOf(spelling, 'log', text)!;
      const reading = readingOf(spelling.versions, 'named');
      expect(isSameRange(requireRange(back, reading), requireRange(written, reading))).toBe(true);
    }),
  );
});
