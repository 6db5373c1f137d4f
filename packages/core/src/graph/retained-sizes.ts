import { dominators, START } from './dominators.js';
import { nodeCount, type NeedGraph } from './need-graph.js';

/** The nodes that leave when a node leaves: nothing else brings them. */
export interface RetainedSizes {
  /** By node: copies that leave with it, itself included. */
  readonly copies: Uint32Array;
  /** By node: bytes of their archives. */
  readonly bytes: Float64Array;
  /** By link: does anything leave when this requirement alone is struck out? Then it is all of its target's. */
  readonly isSoleWay: Uint8Array;
  /** By node: the nearest node without which it would not be there; START: none. */
  readonly dominatorOf: Uint32Array;
  /** Nodes, each before those that leave with it. */
  readonly order: Uint32Array;
}

/**
 * Weighs every node and every link at once by the dominator tree: what leaves with a node is what it
 * dominates, and striking out one link takes its target's part away where all other ways to the target
 * come from below the target itself. Projects do not leave: all of them are roots.
 * @param bytesOf the archive's size by index of the copy; without it all bytes are 0
 * O(links) for graphs without cycles; see `dominators`.
 */
export function retainedSizes(graph: NeedGraph, bytesOf?: ArrayLike<number>): RetainedSizes {
  const { projectCount, owners } = graph;
  const count = nodeCount(graph);
  const { of, order } = dominators(graph, owners, projectCount);
  const copies = new Uint32Array(count);
  const bytes = new Float64Array(count);
  for (let i = order.length - 1; i >= 0; i--) {
    const node = order[i]!;
    if (node >= projectCount) {
      copies[node]! += 1;
      if (bytesOf !== undefined) bytes[node]! += bytesOf[node - projectCount]!;
    }
    const above = of[node]!;
    if (above === START) continue;
    copies[above]! += copies[node]!;
    bytes[above]! += bytes[node]!;
  }
  const span = subtreeSpans(of, order);
  return { copies, bytes, isSoleWay: soleWays(graph, of, span), dominatorOf: of, order };
}

interface Spans {
  /** Where a node and all below it stand in a walk of the dominator tree. */
  readonly from: Uint32Array;
  readonly end: Uint32Array;
}

function subtreeSpans(of: Uint32Array, order: Uint32Array): Spans {
  const size = new Uint32Array(of.length);
  for (let i = order.length - 1; i >= 0; i--) {
    const node = order[i]!;
    size[node]! += 1;
    if (of[node] !== START) size[of[node]!]! += size[node]!;
  }
  const from = new Uint32Array(of.length);
  const end = new Uint32Array(of.length);
  const next = new Uint32Array(of.length);
  let free = 1;
  for (const node of order) {
    const above = of[node]!;
    const at = above === START ? free : next[above]!;
    if (above === START) free += size[node]!;
    else next[above]! += size[node]!;
    from[node] = at;
    end[node] = at + size[node]!;
    next[node] = at + 1;
  }
  return { from, end };
}

function soleWays(graph: NeedGraph, of: Uint32Array, { from, end }: Spans): Uint8Array {
  const { owners, projectCount } = graph;
  const isSoleWay = new Uint8Array(graph.targets.length);
  for (let node = projectCount; node < of.length; node++) {
    let ways = 0;
    let sole = 0;
    for (let at = owners.starts[node]!; at < owners.starts[node + 1]!; at++) {
      const owner = from[owners.targets[at]!]!;
      const isBelow = owner === 0 || (owner >= from[node]! && owner < end[node]!);
      if (isBelow) continue;
      ways += 1;
      sole = owners.positions[at]!;
    }
    if (ways === 1) isSoleWay[sole] = 1;
  }
  return isSoleWay;
}

/** The nodes that leave with one, itself included, in ascending order. O(nodes). */
export function retainedBy({ dominatorOf, order }: RetainedSizes, node: number): readonly number[] {
  const isLeaving = new Uint8Array(dominatorOf.length);
  isLeaving[node] = 1;
  const leaving = [node];
  for (const one of order) {
    if (one === node || dominatorOf[one] === START || isLeaving[dominatorOf[one]!] === 0) continue;
    isLeaving[one] = 1;
    leaving.push(one);
  }
  return leaving.sort((a, b) => a - b);
}
