import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { fewestStabs } from './fewest-stabs.js';

const SIZE = 7;
const anyDemand = fc
  .uniqueArray(fc.integer({ min: 0, max: SIZE - 1 }), { minLength: 1, maxLength: 4 })
  .map((list) => list.sort((a, b) => a - b));
const anyRun = fc
  .tuple(fc.integer({ min: 0, max: SIZE - 1 }), fc.integer({ min: 1, max: 4 }))
  .map(([from, length]) =>
    Array.from({ length: Math.min(length, SIZE - from) }, (_, i) => from + i),
  );
const anyPreference = fc.shuffledSubarray(
  Array.from({ length: SIZE }, (_, i) => i),
  { minLength: SIZE, maxLength: SIZE },
);

/** Every subset tried; of the smallest that serve, the one that stands first in the preference. */
function exhaustive(
  demands: readonly (readonly number[])[],
  preference: readonly number[],
): readonly number[] {
  let best: readonly number[] | null = null;
  for (let mask = 0; mask < 1 << SIZE; mask++) {
    const subset = preference.filter((_, rank) => (mask & (1 << rank)) !== 0);
    if (!demands.every((demand) => demand.some((candidate) => subset.includes(candidate))))
      continue;
    if (best === null || isBefore(subset, best, preference)) best = subset;
  }
  return best!;
}

function isBefore(
  a: readonly number[],
  b: readonly number[],
  preference: readonly number[],
): boolean {
  if (a.length !== b.length) return a.length < b.length;
  for (const [i, candidate] of a.entries()) {
    const order = preference.indexOf(candidate) - preference.indexOf(b[i]!);
    if (order !== 0) return order < 0;
  }
  return false;
}

describe('the fewest candidates, best first, as if every subset had been tried', () => {
  test.each([
    ['runs', anyRun],
    ['runs with holes', anyDemand],
  ])('over %s', (_, anyOne) => {
    fc.assert(
      fc.property(fc.array(anyOne, { maxLength: 5 }), anyPreference, (demands, preference) => {
        expect(fewestStabs(demands, preference)).toEqual(exhaustive(demands, preference));
      }),
    );
  });
});

test('nothing is asked, nothing is chosen', () => {
  expect(fewestStabs([], [0, 1])).toEqual([]);
});
