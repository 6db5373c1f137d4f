import { expect, test } from 'vitest';
import type { TraceNode } from '../api/client';
import { dotText, graphmlText } from './trace-files';

const node = (more: Partial<TraceNode>): TraceNode => ({
  id: 'apps/web',
  kind: 'project',
  name: 'web',
  version: null,
  column: 0,
  row: 0,
  chains: 2,
  count: 1,
  isThrough: true,
  isInCycle: false,
  leadsTo: [],
  ...more,
});
const TRACE = {
  nodes: [
    node({ name: 'we "b"' }),
    node({ id: 'json 1.0.0', kind: 'copy', name: 'json', version: '1.0.0' }),
  ],
  links: [{ from: 0, to: 1, chains: 2, isThrough: true, leadsTo: [0] }],
};

test('DOT has boxes for projects, round ones for copies, and the chains as weights', () => {
  expect(dotText(TRACE)).toBe(`digraph trace {
  rankdir=LR;
  n0 [label="we \\"b\\"", shape=box];
  n1 [label="json 1.0.0", shape=box, style=rounded];
  n0 -> n1 [weight=2];
}
`);
});

test('GraphML is XML with all nodes and edges', () => {
  const parsed = new DOMParser().parseFromString(graphmlText(TRACE), 'application/xml');
  expect(parsed.querySelector('parsererror')).toBeNull();
  expect(
    [...parsed.querySelectorAll('node data[key="name"]')].map((one) => one.textContent),
  ).toEqual(['we "b"', 'json']);
  const edge = parsed.querySelector('edge')!;
  expect([edge.getAttribute('source'), edge.getAttribute('target')]).toEqual(['n0', 'n1']);
});
