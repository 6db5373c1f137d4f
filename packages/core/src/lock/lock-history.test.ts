import fc from 'fast-check';
import { expect, test } from 'vitest';
import { broughtBy, lockStandOf, type LockStep } from './lock-history.js';

const copies = ['log 1.0.0', 'log 2.0.0', 'json 1.0.0', 'ink 1.0.0'];
/** What the lockfile has after each commit. */
const anyHistory = fc.array(
  fc.subarray(copies).map((names) => new Set(names)),
  { minLength: 1, maxLength: 8 },
);

/** The same as steps; two lockfiles with the same copies have the same sum. */
function stepsOf(history: readonly ReadonlySet<string>[]): readonly LockStep[] {
  return history.map((now, i) => {
    const before = history[i - 1] ?? new Set<string>();
    return {
      commit: `c${i}`,
      sum: sumOf(now),
      entered: [...now].filter((name) => !before.has(name)),
      left: [...before].filter((name) => !now.has(name)),
    };
  });
}

function sumOf(names: ReadonlySet<string>): string {
  return [...names].sort().join(', ');
}

test('what a lockfile lacks and keeps is what the head’s copies and its own differ by', () => {
  fc.assert(
    fc.property(anyHistory, fc.nat(), (history, at) => {
      const own = history[at % history.length]!;
      const head = history.at(-1)!;
      const stand = lockStandOf(sumOf(own), sumOf(head), stepsOf(history));
      const lacks = [...head].filter((name) => !own.has(name)).sort();
      const keeps = [...own].filter((name) => !head.has(name)).sort();
      expect([stand.lacks, stand.keeps]).toEqual([lacks, keeps]);
      expect(stand.state).toBe(sumOf(own) === sumOf(head) ? 'here' : 'behind');
      if (stand.state === 'behind')
        expect(stand.behind).toBe(
          history.length - 1 - history.findLastIndex((one) => sumOf(one) === sumOf(own)),
        );
    }),
  );
});

test('a lockfile that no commit has is elsewhere, even where the head has none', () => {
  const steps = stepsOf([new Set(copies)]);
  expect(lockStandOf('other', null, steps)).toEqual({
    sum: 'other',
    state: 'elsewhere',
    commit: null,
    behind: 0,
    lacks: [],
    keeps: [],
  });
});

test('each copy was brought by the last commit before which it was not there', () => {
  fc.assert(
    fc.property(anyHistory, (history) => {
      const brought = broughtBy(stepsOf(history));
      expect(new Set(brought.keys())).toEqual(history.at(-1));
      for (const [name, step] of brought) {
        expect(history.slice(step).every((names) => names.has(name))).toBe(true);
        expect(history[step - 1]?.has(name) ?? false).toBe(false);
      }
    }),
  );
});
