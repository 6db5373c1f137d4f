import { expect } from 'vitest';

/** Milliseconds of processor time; least of three runs. Other work of the machine counts little. */
function cost(run: () => unknown): number {
  const times = [1, 2, 3].map(() => {
    const start = process.cpuUsage();
    run();
    const { user, system } = process.cpuUsage(start);
    return (user + system) / 1000;
  });
  return Math.min(...times);
}

/**
 * Expects work to take time in proportion to its size: ten times as much may cost fifty times as much, as the square would
 * cost a hundred times. Work is measured against itself, so that a slow machine does not count.
 * @param at makes the work of a size; what that takes is not measured
 */
export function expectInProportion(
  size: number,
  at: (size: number) => () => unknown,
  what = 'work',
): void {
  const [few, many] = [at(size / 10), at(size)];
  few();
  const small = cost(few);
  expect(cost(many), what).toBeLessThan(Math.max(small, 2) * 50);
}
