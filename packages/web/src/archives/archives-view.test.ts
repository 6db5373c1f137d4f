import { expect, test } from 'vitest';
import type { Archives } from '../api/client';
import { headingOf, roomOf, viewOf } from './archives-view';

const ARCHIVES = {
  isOn: true,
  lookedAt: '2025-06-01T00:00:00Z',
  branches: 1,
  named: 3,
  missing: 0,
  archives: 5,
  bytes: 3_000_000,
  mostBytes: 21_474_836_480,
} as unknown as Archives;

test.each<[Partial<Archives>, string]>([
  [{}, 'All of the 3 archives that the lockfile names are kept.'],
  [
    { branches: 7, missing: 1 },
    '2 of the 3 archives that the lockfiles of 7 branches name are kept, 1 is not.',
  ],
  [{ missing: 2 }, '1 of the 3 archives that the lockfile names is kept, 2 are not.'],
  [{ lookedAt: null }, 'Going through the lockfiles for the first time.'],
  [{ named: 0 }, 'No lockfile of this workspace names an archive yet.'],
  [{ isOn: false }, 'This server keeps no archives.'],
])('the heading says how it stands: %j', (more, says) => {
  expect(headingOf({ ...ARCHIVES, ...more })).toBe(says);
});

test('how much room is taken is told with the bound', () => {
  expect(roomOf(ARCHIVES)).toMatch(/^5 archives of all workspaces take .* of .*\.$/);
});

test('what is chosen stands in the address; what is not understood counts for nothing', () => {
  expect(viewOf(new URLSearchParams('show=gone&skip=100'))).toEqual({
    show: 'gone',
    skip: 100,
  });
  expect(viewOf(new URLSearchParams('show=all-of-it&skip=-3'))).toEqual({
    show: 'all',
    skip: 0,
  });
});
