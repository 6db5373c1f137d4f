import { nodeCount, type NeedGraph } from './need-graph.js';

/** A link by its nodes; all requirements of the owner that the target answers. */
export type LinkEnds = readonly [owner: number, target: number];

/**
 * Copies that nothing brings any more once some links are struck out. Projects stay.
 * O(links); no recursion, so long chains are safe.
 */
export function leavingWithoutLinks(
  graph: NeedGraph,
  struck: readonly LinkEnds[],
): readonly number[] {
  const gone = new Map<number, Set<number>>();
  for (const [owner, target] of struck) {
    const targets = gone.get(owner) ?? new Set<number>();
    gone.set(owner, targets.add(target));
  }
  const before = reachable(graph, new Map());
  const after = reachable(graph, gone);
  const leaving: number[] = [];
  for (let node = graph.projectCount; node < before.length; node++)
    if (before[node] === 1 && after[node] === 0) leaving.push(node);
  return leaving;
}

/** 1 for each node that a project reaches. */
function reachable(graph: NeedGraph, gone: ReadonlyMap<number, ReadonlySet<number>>): Uint8Array {
  const { projectCount, starts, targets } = graph;
  const count = nodeCount(graph);
  const seen = new Uint8Array(count);
  const stack = new Uint32Array(count);
  let top = 0;
  for (let node = 0; node < projectCount; node++) {
    seen[node] = 1;
    stack[top++] = node;
  }
  while (top > 0) {
    const node = stack[--top]!;
    const struck = gone.get(node);
    for (let at = starts[node]!; at < starts[node + 1]!; at++) {
      const target = targets[at]!;
      if (seen[target] === 1 || struck?.has(target) === true) continue;
      seen[target] = 1;
      stack[top++] = target;
    }
  }
  return seen;
}
