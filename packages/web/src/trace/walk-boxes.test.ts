import { expect, test } from 'vitest';
import type { PlacedNode } from './trace-layout';
import { nextBox } from './walk-boxes';

const box = (id: string, column: number, y: number): PlacedNode =>
  ({ id, column, y, index: 0 }) as PlacedNode;

const BOXES = [box('a', 0, 0), box('b', 0, 30), box('c', 0, 60), box('d', 2, 10), box('e', 2, 70)];

test.each([
  ['a', 'ArrowDown', 'b'],
  ['c', 'ArrowUp', 'b'],
  ['a', 'ArrowUp', null],
  ['c', 'ArrowDown', null],
  ['a', 'ArrowRight', 'd'],
  ['c', 'ArrowRight', 'e'],
  ['e', 'ArrowLeft', 'c'],
  ['e', 'ArrowRight', null],
  ['d', 'ArrowDown', 'e'],
] as const)('from %s %s leads to %s', (from, key, to) => {
  const start = BOXES.find(({ id }) => id === from)!;
  expect(nextBox(BOXES, start, key)?.id ?? null).toBe(to);
});

test('from outside every key leads to the first', () => {
  expect(nextBox(BOXES, null, 'ArrowUp')?.id).toBe('a');
  expect(nextBox([], null, 'ArrowUp')).toBeNull();
});
