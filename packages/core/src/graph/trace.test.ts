import fc from 'fast-check';
import { expect, test } from 'vitest';
import type { AnsweredRequirement, Resolution } from '../resolve/index.js';
import { Chains } from './chains.js';
import { mergedChains } from './merged-chains.js';
import { needGraph, nodeCount, nodeNamed, type NeedGraph } from './need-graph.js';
import { whatTheyBring, whoBringsThem } from './reach.js';
import { traceOf } from './trace.js';

const PROJECTS = 4;
const COPIES = 8;

/** Nodes below PROJECTS are projects; links lead from lower to higher numbers alone, so there are no cycles. */
function graphOf(lists: readonly (readonly number[])[]): NeedGraph {
  const requirement = (target: number): AnsweredRequirement => ({
    kind: 'runtime',
    name: target < PROJECTS ? `p${target}` : `c${target}`,
    written: '*',
    range: target < PROJECTS ? null : '*',
    when: [],
    answer:
      target < PROJECTS
        ? { kind: 'project', folder: `p${target}` }
        : { kind: 'copy', version: '1.0.0' },
  });
  const resolution: Resolution = {
    projects: lists.slice(0, PROJECTS).map((targets, i) => ({
      folder: `p${i}`,
      name: `p${i}`,
      version: null,
      requirements: targets.map(requirement),
      supplied: [],
    })),
    copies: lists.slice(PROJECTS).map((targets, i) => ({
      name: `c${i + PROJECTS}`,
      version: '1.0.0',
      registry: 'main',
      archive: '/a',
      integrity: 'sha512-A',
      targets: ['*'],
      deprecated: null,
      requirements: targets.map(requirement),
      peers: [],
    })),
  };
  return needGraph(resolution);
}

const anyGraph = fc
  .array(fc.array(fc.boolean(), { minLength: 12, maxLength: 12 }), {
    minLength: PROJECTS + COPIES,
    maxLength: PROJECTS + COPIES,
  })
  .map((rows) => graphOf(rows.map((row, i) => row.flatMap((is, j) => (is && j > i ? [j] : [])))));

test('upwards, it holds the end and all that bring it in, each left of what it requires', () => {
  fc.assert(
    fc.property(anyGraph, fc.integer({ min: PROJECTS, max: 11 }), (graph, end) => {
      const { nodes, links, size } = traceOf(graph, { direction: 'up', ends: [end], most: 100 });
      const reached = new Chains(graph).shortest(end) !== null;
      const above = whoBringsThem(graph, [end]).map(({ node }) => node);
      const onChains = above.filter(
        (node) => node < graph.projectCount || new Chains(graph).shortest(node) !== null,
      );
      const expected = reached ? [...onChains, end] : [end];
      expect(nodes.map(({ node }) => node!).sort((a, b) => a - b)).toEqual(
        expected.sort((a, b) => a - b),
      );
      expect(size).toBe(nodes.length);
      for (const { from, to } of links) expect(nodes[from]!.column).toBeLessThan(nodes[to]!.column);
    }),
  );
});

test('the chains that its lines carry are those that are counted', () => {
  fc.assert(
    fc.property(anyGraph, fc.integer({ min: PROJECTS, max: 11 }), (graph, end) => {
      const { nodes, links } = traceOf(graph, { direction: 'up', ends: [end], most: 100 });
      const at = nodes.findIndex(({ node }) => node === end);
      const carried = links
        .filter(({ to }) => to === at)
        .reduce((sum, { chains }) => sum + chains, 0);
      expect(BigInt(carried)).toBe(new Chains(graph).count(end));
      for (const { node, chains } of nodes) {
        const through = [...new Chains(graph).to(end)].filter((one) => one.includes(node!)).length;
        if (node !== end) expect(chains).toBe(through);
      }
    }),
  );
});

test('downwards, it holds all that a project brings', () => {
  fc.assert(
    fc.property(anyGraph, fc.integer({ min: 0, max: 3 }), (graph, project) => {
      const { nodes } = traceOf(graph, { direction: 'down', ends: [project], most: 100 });
      const below = whatTheyBring(graph, [project]).map(({ node }) => node);
      expect(nodes.map(({ node }) => node!).sort((a, b) => a - b)).toEqual(
        [project, ...below].sort((a, b) => a - b),
      );
    }),
  );
});

test('gathering loses no node and no chain, keeps what lies on the chosen chain, and opens on demand', () => {
  fc.assert(
    fc.property(anyGraph, fc.integer({ min: PROJECTS, max: 11 }), (graph, end) => {
      const terms = { direction: 'up', ends: [end] } as const;
      const whole = traceOf(graph, { ...terms, most: 100 });
      const gathered = traceOf(graph, { ...terms, most: 1 });
      const sum = (list: readonly { count: number }[]): number =>
        list.reduce((total, { count }) => total + count, 0);
      expect(sum(gathered.nodes)).toBe(whole.nodes.length);
      const opened = traceOf(graph, {
        ...terms,
        most: 1,
        open: new Set([0, 1, 2, 3, 4, 5, 6, 7, 8, 9, 10, 11]),
      });
      expect(opened.nodes).toEqual(whole.nodes);
      for (const { node } of whole.nodes) {
        const chosen = traceOf(graph, { ...terms, most: 1, through: node! });
        expect(chosen.nodes.some((one) => one.node === node)).toBe(true);
      }
    }),
  );
});

test('what is not on a chain through the chosen node is marked so', () => {
  const graph = graphOf([[4, 5], [5], [], [], [6], [6], [], [], [], [], [], []]);
  const end = nodeNamed(graph, 'c6 1.0.0')!;
  const through = nodeNamed(graph, 'c4 1.0.0')!;
  const { nodes } = traceOf(graph, { direction: 'up', ends: [end], most: 100, through });
  const marked = nodes.filter(({ isThrough }) => isThrough).map(({ node }) => node);
  expect(marked.sort((a, b) => a! - b!)).toEqual([0, 4, 6]);
});

test('projects in a cycle share a column, and the walk ends', () => {
  const graph = graphOf([[1], [0, 4], [], [], [], [], [], [], [], [], [], []]);
  const { nodes, links } = traceOf(graph, { direction: 'up', ends: [4], most: 100 });
  const first = nodes.filter(({ column }) => column === 0).map(({ node }) => node);
  expect(first.sort()).toEqual([0, 1]);
  expect(links.map(({ from, to }) => [nodes[from]!.node, nodes[to]!.node])).toEqual(
    expect.arrayContaining([
      [0, 1],
      [1, 0],
      [1, 4],
    ]),
  );
});

test('chains to several nodes come shortest first, all of them', () => {
  fc.assert(
    fc.property(anyGraph, (graph) => {
      const chains = new Chains(graph);
      const ends = Array.from({ length: nodeCount(graph) - PROJECTS }, (_, i) => i + PROJECTS);
      const merged = [...mergedChains(chains, ends)];
      const lengths = merged.map(({ length }) => length);
      expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
      expect(merged).toHaveLength(ends.flatMap((end) => [...chains.to(end)]).length);
    }),
  );
});

test('chains that pass a cycle are counted as if the cycle were one node', () => {
  // p0 → c4, c4 ↔ c5, c5 → c6
  const lists: number[][] = Array.from({ length: PROJECTS + COPIES }, () => []);
  lists[0] = [4];
  lists[4] = [5];
  lists[5] = [4, 6];
  const graph = graphOf(lists);
  const up = traceOf(graph, { direction: 'up', ends: [6], most: 100 });
  expect(up.nodes.map(({ node, chains }) => [node, chains])).toEqual([
    [0, 1],
    [4, 1],
    [5, 1],
    [6, 1],
  ]);
  const down = traceOf(graph, { direction: 'down', ends: [0], most: 100 });
  expect(down.nodes.find(({ node }) => node === 6)!.chains).toBe(1);
});

test('in any graph, cycles or not, no node or link of a trace has no chain', () => {
  const anyGraphWithCycles = fc
    .array(fc.array(fc.nat(11), { maxLength: 3 }), {
      minLength: PROJECTS + COPIES,
      maxLength: PROJECTS + COPIES,
    })
    .map((rows) =>
      graphOf(
        rows.map((row, i) =>
          [...new Set(row)].filter((j) => j !== i && (i < PROJECTS || j >= PROJECTS)),
        ),
      ),
    );
  fc.assert(
    fc.property(anyGraphWithCycles, fc.integer({ min: PROJECTS, max: 11 }), (graph, end) => {
      fc.pre(new Chains(graph).shortest(end) !== null);
      const { nodes, links } = traceOf(graph, { direction: 'up', ends: [end], most: 100 });
      for (const { chains } of [...nodes, ...links]) expect(chains).toBeGreaterThan(0);
    }),
  );
});
