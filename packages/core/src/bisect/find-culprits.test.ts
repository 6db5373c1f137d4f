import fc from 'fast-check';
import { expect, test } from 'vitest';
import { findCulprits, mostTrials, type SearchProgress, type Verdict } from './find-culprits.js';

function withNeeds(
  chosen: readonly number[],
  needs: (one: number) => readonly number[],
): ReadonlySet<number> {
  const has = new Set(chosen);
  for (const one of has) for (const other of needs(one)) has.add(other);
  return has;
}

/** Searches among differences. @returns what was found, and how many trials it took */
async function searched(
  count: number,
  verdict: (has: ReadonlySet<number>) => Verdict,
  needs: (one: number) => readonly number[] = () => [],
) {
  let trials = 0;
  const told: SearchProgress[] = [];
  const closed = (chosen: readonly number[]): readonly number[] =>
    [...withNeeds(chosen, needs)].sort((a, b) => a - b);
  const found = await findCulprits({
    count,
    closed,
    trial: (part) => {
      trials++;
      return Promise.resolve(verdict(new Set(part)));
    },
    tell: (progress) => told.push(progress),
  });
  return { found: [...found].sort((a, b) => a - b), trials, told };
}

const anyPlanted = fc.integer({ min: 1, max: 400 }).chain((count) =>
  fc.record({
    count: fc.constant(count),
    planted: fc.uniqueArray(fc.integer({ min: 0, max: count - 1 }), {
      minLength: 1,
      maxLength: Math.min(3, count),
    }),
  }),
);

test('one, two or three planted culprits are found, exactly these, within the bound', async () => {
  await fc.assert(
    fc.asyncProperty(anyPlanted, async ({ count, planted }) => {
      const isThere = (has: ReadonlySet<number>): boolean => planted.every((one) => has.has(one));
      const { found, trials } = await searched(count, (has) => (isThere(has) ? 'fails' : 'works'));
      expect(found).toEqual([...planted].sort((a, b) => a - b));
      // In the last step each is left out once.
      expect(trials).toBeLessThanOrEqual(mostTrials(count, planted.length) + planted.length);
    }),
  );
});

test('where nothing is known of the trials, what is found fails, and less of it does not', async () => {
  const anyWorld = fc.record({
    count: fc.integer({ min: 1, max: 8 }),
    verdicts: fc.infiniteStream(fc.constantFrom<Verdict>('works', 'fails', 'unclear')),
    needs: fc.array(fc.tuple(fc.nat({ max: 7 }), fc.nat({ max: 7 })), { maxLength: 5 }),
  });
  await fc.assert(
    fc.asyncProperty(anyWorld, async ({ count, verdicts, needs }) => {
      const known = new Map<string, Verdict>();
      const verdictOf = (has: ReadonlySet<number>): Verdict => {
        if (has.size === count) return 'fails';
        if (has.size === 0) return 'works';
        const key = [...has].sort().join(' ');
        if (!known.has(key)) known.set(key, verdicts.next().value as Verdict);
        return known.get(key)!;
      };
      const needsOf = (one: number): readonly number[] =>
        needs.flatMap(([from, to]) => (from === one && to < count ? [to] : []));
      const { found } = await searched(count, verdictOf, needsOf);
      expect(verdictOf(new Set(found))).toBe('fails');
      for (const one of found) {
        // What needs it cannot be had without it.
        const less = found.filter((other) => !withNeeds([other], needsOf).has(one));
        expect(verdictOf(new Set(less))).not.toBe('fails');
      }
    }),
  );
});

test('what comes along with a culprit and has no part in it is left out', async () => {
  const needs = (one: number): readonly number[] => (one === 6 ? [2] : []);
  const { found } = await searched(8, (has) => (has.has(2) ? 'fails' : 'works'), needs);
  expect(found).toEqual([2]);
});

test('how many trials are left at most is told, and kept', async () => {
  await fc.assert(
    fc.asyncProperty(anyPlanted, async ({ count, planted }) => {
      const { trials, told } = await searched(count, (has) =>
        planted.every((one) => has.has(one)) ? 'fails' : 'works',
      );
      expect(told).toHaveLength(trials);
      const inHalves = told.filter((one) => one.made < trials - planted.length);
      for (const { made, left } of inHalves)
        expect(trials - planted.length - made).toBeLessThanOrEqual(left);
    }),
  );
});
