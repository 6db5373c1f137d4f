import { describe, expect, test } from 'vitest';
import { railScale, spreadApart } from './rail-scale';

describe('the scale', () => {
  test('gives a major step more room than a minor one, and that more than a patch', () => {
    const { positions, majors, divides } = railScale(['1.0.0', '1.0.1', '1.1.0', '2.0.0']);
    const [patch, minor, major] = [1, 2, 3].map((i) => positions[i]! - positions[i - 1]!);
    expect(patch).toBeLessThan(minor!);
    expect(minor).toBeLessThan(major!);
    expect(positions[0]).toBe(0);
    expect(positions.at(-1)).toBe(1);
    expect(majors).toEqual([3]);
    expect(divides[0]).toBeCloseTo((positions[2]! + positions[3]!) / 2);
  });

  test('puts a lone release in the middle and knows nothing of an empty line', () => {
    expect(railScale(['1.0.0']).positions).toEqual([0.5]);
    expect(railScale([])).toEqual({ positions: [], majors: [], divides: [] });
  });

  test('reads prereleases and builds by their numbers', () => {
    expect(railScale(['1.0.0-rc.1', '1.0.0+b', '2.0.0-a']).majors).toEqual([2]);
  });
});

describe('spreading apart', () => {
  const overlaps = (xs: readonly number[], widths: readonly number[]): boolean =>
    xs.some((x, i) => i > 0 && x - widths[i]! / 2 < xs[i - 1]! + widths[i - 1]! / 2);

  test.each([
    [
      [10, 10, 10],
      [8, 8, 8],
    ],
    [
      [0, 1, 2, 99, 100],
      [10, 10, 10, 10, 10],
    ],
    [
      [100, 100],
      [20, 20],
    ],
    [[50], [10]],
    [[], []],
  ])('%j', (at, widths) => {
    const xs = spreadApart(
      at.map((x, i) => ({ x, width: widths[i]! })),
      100,
    );
    expect(overlaps(xs, widths)).toBe(false);
    for (const [i, x] of xs.entries()) {
      expect(x - widths[i]! / 2).toBeGreaterThanOrEqual(0);
      expect(x + widths[i]! / 2).toBeLessThanOrEqual(100);
    }
  });

  test('leaves alone what has room', () => {
    expect(
      spreadApart(
        [
          { x: 20, width: 10 },
          { x: 60, width: 10 },
        ],
        100,
      ),
    ).toEqual([20, 60]);
  });

  test('spreads evenly what does not fit', () => {
    expect(
      spreadApart(
        [
          { x: 1, width: 80 },
          { x: 2, width: 80 },
        ],
        100,
      ),
    ).toEqual([25, 75]);
  });
});
