import { expect, test } from 'vitest';
import type { TraceNode } from '../api/client';
import { BOX_HEIGHT, layTrace } from './trace-layout';

const node = (column: number, row: number, name: string): TraceNode => ({
  id: name,
  kind: 'copy',
  name,
  version: '1.0.0',
  column,
  row,
  chains: 1,
  count: 1,
  isThrough: true,
  isInCycle: false,
  leadsTo: [],
});
const link = (from: number, to: number, chains: number) => ({
  from,
  to,
  chains,
  isThrough: true,
  leadsTo: [],
});

test('no two boxes touch, columns stand side by side, and rows keep their order', () => {
  const nodes = [0, 1, 2].flatMap((column) =>
    Array.from({ length: 5 * (column + 1) }, (_, row) => node(column, row, `n${column}-${row}`)),
  );
  const {
    nodes: placed,
    width,
    height,
  } = layTrace({ columns: 3, nodes, links: [], lines: [] }, 760);
  for (const a of placed) {
    expect(a.x).toBeGreaterThanOrEqual(0);
    expect(a.x + a.width).toBeLessThanOrEqual(width);
    expect(a.y + BOX_HEIGHT).toBeLessThanOrEqual(height);
    for (const b of placed) {
      if (a.column < b.column) expect(a.x + a.width).toBeLessThan(b.x);
      if (a.column === b.column && a.row < b.row) expect(a.y + BOX_HEIGHT).toBeLessThanOrEqual(b.y);
    }
  }
});

test('a wider frame is used for the gaps, up to a measure', () => {
  const nodes = ['a', 'b', 'c'].map((letter, i) => node(i, 0, letter.repeat(20)));
  const widthIn = (frame: number): number =>
    layTrace({ columns: 3, nodes, links: [], lines: [] }, frame).width;
  expect(widthIn(800)).toBeGreaterThan(widthIn(400));
  expect(widthIn(4000)).toBe(widthIn(2000));
});

test('what carries more chains is thicker, by no more than the thickest', () => {
  const nodes = [node(0, 0, 'a'), node(0, 1, 'b'), node(1, 0, 'c')];
  const { links } = layTrace(
    { columns: 2, nodes, links: [link(0, 2, 1), link(1, 2, 5000)], lines: [] },
    760,
  );
  expect(links[1]!.thickness).toBeGreaterThan(links[0]!.thickness);
  expect(links[1]!.thickness).toBeLessThanOrEqual(9);
});
