import { describe, expect, test } from 'vitest';
import { ago, count, day, dayOf, short, sumDigits } from './words';

test('a number says what it counts', () => {
  expect([count(0, 'file'), count(1, 'file'), count(2, 'copy', 'copies')]).toEqual([
    '0 files',
    '1 file',
    '2 copies',
  ]);
});

test('hashes are said by their first digits', () => {
  expect(short('4f2a91c0ffee')).toBe('4f2a91c');
  expect(sumDigits('7c1e90abcdef')).toBe('7c1e 90ab');
});

describe('how long ago', () => {
  const now = Date.parse('2026-11-16T12:00:00Z');
  test.each([
    ['2026-11-16T11:59:50Z', 'just now'],
    ['2026-11-16T11:48:00Z', '12 min ago'],
    ['2026-11-16T11:00:00Z', '1 hour ago'],
    ['2026-11-15T00:00:00Z', '36 hours ago'],
    ['2026-11-10T12:00:00Z', '6 days ago'],
    ['2026-11-16T12:05:00Z', 'just now'],
  ])('%s', (then, words) => {
    expect(ago(then, now)).toBe(words);
  });
});

test('a day is said with its month in letters', () => {
  expect(day('2027-03-31T12:00:00Z')).toBe('31 Mar 2027');
});

test.each([
  ['14 Sep 2026', '2026-09-14'],
  ['4 september 2026', '2026-09-04'],
  ['2026-09-14', '2026-09-14'],
  [' 29 Feb 2028 ', '2028-02-29'],
  ['29 Feb 2027', null],
  ['2026-13-01', null],
  ['14 Foo 2026', null],
  ['9/14/2026', null],
  ['', null],
])('the day %j is %j', (text, iso) => {
  expect(dayOf(text)).toBe(iso);
  if (iso !== null) expect(dayOf(day(iso))).toBe(iso);
});

test('a day is written one way, with three letters for each month', () => {
  expect(day('2026-09-14')).toBe('14 Sep 2026');
  expect(day('2026-03-01')).toBe('1 Mar 2026');
});
