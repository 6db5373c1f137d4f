import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { AnsweredRequirement, Copy, ProjectAnswers, Resolution } from '../resolve/index.js';
import {
  Chains,
  retainedSizes,
  retainedBy,
  leavingWithoutLinks,
  linksOnlyIn,
  needGraph,
  nodeCount,
  nodeName,
  nodeNamed,
  projectCycles,
  redundantLinks,
  whatTheyBring,
  whoBringsThem,
  type NeedGraph,
} from './index.js';

const PROJECTS = 3;
const COPIES = 6;

function requirement(target: number): AnsweredRequirement {
  const name = target < PROJECTS ? `p${target}` : `c${target}`;
  const base = { kind: 'runtime', name, written: '*', when: [] } as const;
  return target < PROJECTS
    ? { ...base, range: null, answer: { kind: 'project', folder: name } }
    : { ...base, range: '*', answer: { kind: 'copy', version: '1.0.0' } };
}

/** Nodes below PROJECTS are projects; each node's targets are given. */
function resolutionOf(lists: readonly (readonly number[])[]): Resolution {
  const projects = lists.slice(0, PROJECTS).map((targets, i): ProjectAnswers => ({
    folder: `p${i}`,
    name: `p${i}`,
    version: null,
    requirements: targets.map(requirement),
    supplied: [],
  }));
  const copies = lists.slice(PROJECTS).map((targets, i): Copy => ({
    name: `c${i + PROJECTS}`,
    version: '1.0.0',
    registry: 'main',
    archive: '/a',
    integrity: 'sha512-',
    targets: ['*'],
    deprecated: null,
    requirements: targets.map(requirement),
    peers: [],
  }));
  return { projects, copies };
}

/** Copies may link to projects here, as nothing in the algorithms forbids it. */
const anyLists = fc
  .array(fc.uniqueArray(fc.integer({ min: 0, max: PROJECTS + COPIES - 1 }), { maxLength: 3 }), {
    minLength: PROJECTS + COPIES,
    maxLength: PROJECTS + COPIES,
  })
  .map((lists) =>
    lists.map((list, i) =>
      list.filter((target) => target !== i && (i < PROJECTS || target >= PROJECTS)),
    ),
  );

function everyChain(graph: NeedGraph, to: number): readonly (readonly number[])[] {
  const found: number[][] = [];
  const walk = (path: readonly number[]): void => {
    const node = path.at(-1)!;
    if (node === to && path.length > 1) {
      found.push([...path]);
      return;
    }
    for (let at = graph.starts[node]!; at < graph.starts[node + 1]!; at++) {
      const next = graph.targets[at]!;
      if (!path.includes(next)) walk([...path, next]);
    }
  };
  for (let project = 0; project < graph.projectCount; project++) walk([project]);
  return found;
}

function reachedFrom(
  graph: NeedGraph,
  without: number | null,
  withoutLinks: readonly number[] = [],
): ReadonlySet<number> {
  const seen = new Set<number>();
  const open = Array.from({ length: graph.projectCount }, (_, i) => i);
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    if (seen.has(node) || node === without) continue;
    seen.add(node);
    for (let at = graph.starts[node]!; at < graph.starts[node + 1]!; at++)
      if (!withoutLinks.includes(at)) open.push(graph.targets[at]!);
  }
  return seen;
}

describe('in random graphs with cycles', () => {
  test('chains are those that a walk of everything finds, shortest first, and counted exactly', () => {
    fc.assert(
      fc.property(anyLists, (lists) => {
        const graph = needGraph(resolutionOf(lists));
        const chains = new Chains(graph);
        for (let node = 0; node < nodeCount(graph); node++) {
          const expected = everyChain(graph, node).map((chain) => chain.join(' '));
          const found = [...chains.to(node)];
          expect(found.map((chain) => chain.join(' ')).sort()).toEqual([...expected].sort());
          const lengths = found.map((chain) => chain.length);
          expect(lengths).toEqual([...lengths].sort((a, b) => a - b));
          expect(chains.count(node)).toBe(BigInt(expected.length));
        }
      }),
    );
  });

  test('listing follows no way round a cycle that cannot get back to a project', () => {
    // p0 → e, e → v, and e requires each of eleven others that all require each other.
    const cycle = Array.from({ length: 12 }, (_, i) => PROJECTS + i);
    const v = PROJECTS + 12;
    const lists: number[][] = Array.from({ length: v + 1 }, () => []);
    lists[0] = [cycle[0]!];
    for (const node of cycle) lists[node] = cycle.filter((other) => other !== node);
    lists[cycle[0]!]!.push(v);
    const graph = needGraph(resolutionOf(lists));
    const found = [...new Chains(graph).to(v)];
    expect(found).toEqual([[0, cycle[0], v]]);
  });

  test('what leaves is what striking it out cuts off', () => {
    fc.assert(
      fc.property(anyLists, (lists) => {
        const graph = needGraph(resolutionOf(lists));
        const sizes = Array.from({ length: COPIES }, (_, i) => 10 ** i);
        const weights = retainedSizes(graph, sizes);
        const all = reachedFrom(graph, null);
        const isCopy = (node: number): boolean => node >= PROJECTS;
        for (const node of [...all].filter(isCopy)) {
          const rest = reachedFrom(graph, node);
          const gone = [...all].filter((one) => !rest.has(one)).sort((a, b) => a - b);
          expect(retainedBy(weights, node)).toEqual(gone);
          expect(weights.copies[node]).toBe(gone.length);
          expect(weights.bytes[node]).toBe(
            gone.reduce((sum, one) => sum + sizes[one - PROJECTS]!, 0),
          );
        }
        for (const owner of all) {
          for (let link = graph.starts[owner]!; link < graph.starts[owner + 1]!; link++) {
            const target = graph.targets[link]!;
            if (!isCopy(target)) continue;
            const gone = all.size - reachedFrom(graph, null, [link]).size;
            expect(weights.isSoleWay[link] === 1 ? weights.copies[target] : 0).toBe(gone);
          }
        }
      }),
    );
  });

  test('without some links goes what no walk finds any more', () => {
    fc.assert(
      fc.property(anyLists, fc.array(fc.nat(), { maxLength: 4 }), (lists, picks) => {
        const graph = needGraph(resolutionOf(lists));
        const count = graph.targets.length;
        const links = count === 0 ? [] : picks.map((pick) => pick % count);
        const ownerOf = (link: number): number =>
          graph.starts.findLastIndex((start) => start <= link);
        const struck = links.map((link) => [ownerOf(link), graph.targets[link]!] as const);
        const left = reachedFrom(graph, null, links);
        const gone = [...reachedFrom(graph, null)].filter((node) => !left.has(node));
        expect(leavingWithoutLinks(graph, struck)).toEqual(gone.sort((a, b) => a - b));
      }),
    );
  });

  test('links that one has and another has not are those, each once', () => {
    fc.assert(
      fc.property(anyLists, anyLists, (lists, others) => {
        const name = (node: number): string => (node < PROJECTS ? `p${node}` : `c${node} 1.0.0`);
        const textsOf = (all: readonly (readonly number[])[]): string[] =>
          all.flatMap((targets, i) => targets.map((target) => `${name(i)} > ${name(target)}`));
        const known = new Set(textsOf(others));
        const found = linksOnlyIn(resolutionOf(lists), resolutionOf(others));
        expect(found.map(({ from, to }) => `${from} > ${to}`)).toEqual(
          textsOf(lists).filter((text) => !known.has(text)),
        );
        expect(linksOnlyIn(resolutionOf(lists), null)).toHaveLength(textsOf(lists).length);
      }),
    );
  });

  test('who brings it and what it brings are each other turned round', () => {
    fc.assert(
      fc.property(anyLists, (lists) => {
        const graph = needGraph(resolutionOf(lists));
        const pairs = new Set<string>();
        for (let node = 0; node < nodeCount(graph); node++)
          for (const { node: other, steps } of whatTheyBring(graph, [node]))
            pairs.add(`${node} ${other} ${steps}`);
        for (let node = 0; node < nodeCount(graph); node++)
          for (const { node: other, steps } of whoBringsThem(graph, [node]))
            expect(pairs.delete(`${other} ${node} ${steps}`)).toBe(true);
        expect(pairs.size).toBe(0);
      }),
    );
  });

  test('a redundant link can go without anything leaving its owner', () => {
    fc.assert(
      fc.property(anyLists, (lists) => {
        const graph = needGraph(resolutionOf(lists));
        const below = (from: number, skipped: number): ReadonlySet<number> => {
          const seen = new Set<number>();
          const open = [from];
          for (let node = open.pop(); node !== undefined; node = open.pop()) {
            if (seen.has(node)) continue;
            seen.add(node);
            for (let at = graph.starts[node]!; at < graph.starts[node + 1]!; at++)
              if (at !== skipped) open.push(graph.targets[at]!);
          }
          return seen;
        };
        for (let owner = 0; owner < nodeCount(graph); owner++) {
          const found = new Set(redundantLinks(graph, owner).map(({ link }) => link));
          for (const link of found) expect(below(owner, link).size).toBe(below(owner, -1).size);
        }
      }),
    );
  });
});

describe('by hand', () => {
  const none: readonly number[] = [];

  test('a chain of diamonds has a number of chains that no walk would end', () => {
    const depth = 120;
    const lists: number[][] = [[PROJECTS], [], []];
    for (let i = 0; i < depth; i++) {
      const at = PROJECTS + 3 * i;
      lists.push([at + 1, at + 2], [at + 3], [at + 3]);
    }
    lists.push([]);
    const graph = needGraph(resolutionOf(lists));
    const end = nodeCount(graph) - 1;
    const chains = new Chains(graph);
    expect(chains.count(end)).toBe(2n ** BigInt(depth));
    const first = chains.to(end).next();
    expect(first.value).toHaveLength(2 * depth + 2);
    expect(chains.shortest(end)).toBe(2 * depth + 1);
  });

  test('a cycle with too many ways is not counted wrongly', () => {
    const size = 14;
    const cycle = Array.from({ length: size }, (_, i) => i + PROJECTS);
    const lists = [
      [PROJECTS],
      none,
      none,
      ...cycle.map((node) => cycle.filter((one) => one !== node)),
    ];
    expect(new Chains(needGraph(resolutionOf(lists))).count(PROJECTS + 1)).toBeNull();
  });

  test('names, projects in cycles, and filters', () => {
    const lists = [[1, 3], [0], none, [4], none, none, none, none, none];
    const resolution = resolutionOf(lists);
    const graph = needGraph(resolution);
    expect(nodeName(graph, 3)).toBe('c3 1.0.0');
    expect(nodeNamed(graph, 'c4 1.0.0')).toBe(4);
    expect(nodeNamed(graph, 'nobody')).toBeNull();
    expect(projectCycles(graph)).toEqual([[0, 1]]);
    expect(needGraph(resolution, { kinds: ['dev'] }).targets).toHaveLength(0);
    const only = {
      ...resolution,
      copies: resolution.copies.map((copy) => ({
        ...copy,
        requirements: copy.requirements.map((one) => ({ ...one, when: ['linux-*'] })),
      })),
    };
    expect(needGraph(only, { target: 'linux-x64' }).targets).toHaveLength(4);
    expect(needGraph(only, { target: 'darwin-arm64' }).targets).toHaveLength(3);
  });
});
