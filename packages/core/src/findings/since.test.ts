import fc from 'fast-check';
import { expect, test } from 'vitest';
import { sinceWhen } from './since.js';

const anyPoints = fc.array(
  fc.record({ commit: fc.uuid(), findings: fc.subarray(['a', 'b', 'c', 'd']) }),
  { maxLength: 8 },
);

test('a finding is there since the first of the commits that have it without a gap up to the newest', () => {
  fc.assert(
    fc.property(anyPoints, (points) => {
      const since = sinceWhen(points);
      expect([...since.keys()].sort()).toEqual([...(points.at(-1)?.findings ?? [])].sort());
      for (const [id, { point, isEarlier }] of since) {
        const at = points.indexOf(point);
        expect(points.slice(at).every(({ findings }) => findings.includes(id))).toBe(true);
        expect(points[at - 1]?.findings.includes(id) ?? false).toBe(false);
        expect(isEarlier).toBe(at === 0);
      }
    }),
  );
});

test('without commits nothing is known', () => {
  expect(sinceWhen([]).size).toBe(0);
});
