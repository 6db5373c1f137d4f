import fc from 'fast-check';
import { expect, test } from 'vitest';
import { minimumHittingSet } from './minimum-hitting-set.js';

test('hits every set, and no smaller set of numbers does', () => {
  const anySets = fc.array(fc.uniqueArray(fc.nat(6), { minLength: 1, maxLength: 4 }), {
    maxLength: 8,
  });
  fc.assert(
    fc.property(anySets, (sets) => {
      const hits = (chosen: readonly number[]): boolean =>
        sets.every((set) => set.some((one) => chosen.includes(one)));
      const found = minimumHittingSet(sets);
      expect(hits(found)).toBe(true);
      const subsets = Array.from({ length: 2 ** 7 }, (_, bits) =>
        [0, 1, 2, 3, 4, 5, 6].filter((i) => (bits >> i) & 1),
      );
      const least = Math.min(...subsets.filter(hits).map((chosen) => chosen.length));
      expect(found.length).toBe(least);
    }),
  );
});

test('of several as small, the higher numbers', () => {
  expect(minimumHittingSet([[0, 1]])).toEqual([1]);
  expect(minimumHittingSet([])).toEqual([]);
});
