import { nodeCount, type NeedGraph } from './need-graph.js';

/** A requirement whose target another requirement of the same owner brings in anyway. */
export interface RedundantLink {
  readonly link: number;
  readonly owner: number;
  /** Target of the other requirement, by way of which it comes in. */
  readonly by: number;
}

/**
 * The requirements of a node that are redundant, and by which other each. Of requirements that bring in
 * each other in a cycle none is redundant by the other.
 * O(links below the node, for each of its requirements).
 */
export function redundantLinks(graph: NeedGraph, owner: number): readonly RedundantLink[] {
  const { starts, targets } = graph;
  const cycles = graph.components.of;
  const direct = targets.subarray(starts[owner], starts[owner + 1]);
  const found = new Map<number, RedundantLink>();
  for (const by of [...new Set(direct)].sort((a, b) => a - b)) {
    const below = nodesBelow(graph, by, owner);
    direct.forEach((target, i) => {
      const link = starts[owner]! + i;
      if (target === by || found.has(link) || cycles[target] === cycles[by]) return;
      if (below[target] === 1) found.set(link, { link, owner, by });
    });
  }
  return [...found.values()].sort((a, b) => a.link - b.link);
}

/** Without ways that pass the owner again. */
function nodesBelow(graph: NeedGraph, from: number, owner: number): Uint8Array {
  const { starts, targets } = graph;
  const isBelow = new Uint8Array(nodeCount(graph));
  isBelow[owner] = 1;
  const open = [from];
  for (let node = open.pop(); node !== undefined; node = open.pop()) {
    for (let at = starts[node]!; at < starts[node + 1]!; at++) {
      const target = targets[at]!;
      if (isBelow[target] === 1) continue;
      isBelow[target] = 1;
      open.push(target);
    }
  }
  isBelow[owner] = 0;
  return isBelow;
}
