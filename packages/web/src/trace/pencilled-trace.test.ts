import { expect, test } from 'vitest';
import type { NamedLink, Trace, TraceNode, WhatIfAnswer } from '../api/client';
import { layTrace } from './trace-layout';
import { pencilledTrace, type TriedOut } from './pencilled-trace';

const node = (id: string, column: number): TraceNode => {
  const [name = id, version] = id.split(' ');
  return {
    id,
    kind: version === undefined ? 'project' : 'copy',
    name,
    version: version ?? null,
    column,
    row: 0,
    chains: 1,
    count: 1,
    isThrough: true,
    isInCycle: false,
    leadsTo: [0],
  };
};
const link = (from: number, to: number) => ({
  from,
  to,
  chains: 1,
  isThrough: true,
  leadsTo: [0],
});

/** apps/web brings json through log. */
const UP = {
  subject: 'package',
  direction: 'up',
  ends: ['json 1.0.0'],
  columns: 3,
  nodes: [node('apps/web', 0), node('log 1.0.0', 1), node('json 1.0.0', 2)],
  links: [link(0, 1), link(1, 2)],
} as unknown as Trace;

interface Because {
  readonly name: string;
  readonly from: string | null;
  readonly to: string | null;
}

function tried(
  because: readonly Because[],
  gained: readonly NamedLink[],
  lost: readonly NamedLink[] = [],
): TriedOut {
  const answer = {
    evaluation: { consequences: { change: { because } } },
    gained,
    lost,
  } as unknown as WhatIfAnswer;
  return { answer, struck: [], leaving: [] };
}

const namesOf = ({ nodes }: { nodes: readonly TraceNode[] }) =>
  nodes.map(({ id, column }) => [id, column]);

test('with nothing tried a trace is as it was', () => {
  const { nodes, links, lines, marks } = pencilledTrace(UP, {
    answer: undefined,
    struck: [],
    leaving: [],
  });
  expect({ nodes, links, lines, marks: [...marks] }).toEqual({
    nodes: UP.nodes,
    links: UP.links,
    lines: [],
    marks: [],
  });
});

test('upwards, another copy stands beside the others, and who would bring it before it', () => {
  const found = pencilledTrace(
    UP,
    tried(
      [{ name: 'json', from: null, to: '2.0.0' }],
      [
        { from: 'apps/kit', to: 'moss 1.0.0' },
        { from: 'moss 1.0.0', to: 'json 2.0.0' },
        { from: 'apps/kit', to: 'elsewhere 1.0.0' },
      ],
    ),
  );
  expect(namesOf(found).slice(3)).toEqual([
    ['json 2.0.0', 2],
    ['moss 1.0.0', 1],
    ['apps/kit', 0],
  ]);
  expect(found.lines).toEqual([
    { from: 5, to: 4, kind: 'enters' },
    { from: 4, to: 3, kind: 'enters' },
  ]);
  expect(found.marks.get('moss 1.0.0')).toEqual({ kind: 'enters' });
});

test('downwards, what would come hangs below who would bring it, in a column of its own where there is none', () => {
  const down = { ...UP, subject: 'project', direction: 'down', ends: ['apps/web'] } as Trace;
  const found = pencilledTrace(
    down,
    tried([{ name: 'moss', from: null, to: '1.0.0' }], [{ from: 'json 1.0.0', to: 'moss 1.0.0' }]),
  );
  expect(namesOf(found).slice(3)).toEqual([['moss 1.0.0', 3]]);
  expect(found.columns).toBe(4);
  const { nodes, lines, width } = layTrace(found, 760);
  expect(lines).toHaveLength(1);
  for (const { x, width: wide } of nodes) expect(x + wide).toBeLessThanOrEqual(width);
});

test('what moves keeps its place, and lines that are there already are not drawn again', () => {
  const found = pencilledTrace(
    UP,
    tried(
      [
        { name: 'log', from: '1.0.0', to: '1.1.0' },
        { name: 'json', from: '1.0.0', to: null },
      ],
      [
        { from: 'apps/web', to: 'log 1.1.0' },
        { from: 'log 1.1.0', to: 'json 1.0.0' },
      ],
      [
        { from: 'apps/web', to: 'log 1.0.0' },
        { from: 'log 1.0.0', to: 'json 1.0.0' },
      ],
    ),
  );
  expect(found.nodes).toEqual(UP.nodes);
  expect(found.lines).toEqual([]);
  expect(Object.fromEntries(found.marks)).toEqual({
    'log 1.0.0': { kind: 'moves', to: '1.1.0' },
    'json 1.0.0': { kind: 'leaves' },
  });
});

test('a line that would be no more is drawn over', () => {
  const { lines } = pencilledTrace(UP, tried([], [], [{ from: 'apps/web', to: 'log 1.0.0' }]));
  expect(lines).toEqual([{ from: 0, to: 1, kind: 'struck' }]);
});

test('a link that is struck out is drawn over, with what would leave', () => {
  const found = pencilledTrace(UP, {
    answer: undefined,
    struck: [
      { from: 'log 1.0.0', to: 'json 1.0.0' },
      { from: 'log 1.0.0', to: 'not on it' },
    ],
    leaving: ['json 1.0.0'],
  });
  expect(found.lines).toEqual([{ from: 1, to: 2, kind: 'struck' }]);
  expect(found.marks.get('json 1.0.0')).toEqual({ kind: 'leaves' });
});

test('no more is added than can be read', () => {
  const links = Array.from({ length: 500 }, (_, i) => ({ from: `apps/p${i}`, to: 'log 1.0.0' }));
  expect(pencilledTrace(UP, tried([], links)).nodes.length).toBeLessThan(40);
});
