import type { Links } from '../links/index.js';

/** Stands for the start that leads to all roots. */
export const START = 0xffff_ffff;

export interface Dominators {
  /** The nearest node that every way to a node passes; START where ways share none. Unreached: itself. */
  readonly of: Uint32Array;
  /** The nodes that the roots reach, owners before what they dominate. */
  readonly order: Uint32Array;
}

/**
 * For each node the nearest other that every way from the roots to it passes. The roots are nodes
 * 0 up to, not including, `rootCount`, and all of them are entered from outside.
 * O(links) for each round; graphs without cycles take one and a round that finds nothing new.
 * Source: K. D. Cooper, T. J. Harvey and K. Kennedy, A simple, fast dominance algorithm, 2001.
 */
export function dominators(links: Links, owners: Links, rootCount: number): Dominators {
  const count = links.starts.length - 1;
  const order = reversePostorder(links, rootCount);
  // Places in the order, START as place 0, so that a dominator always has the lower one.
  const placeOf = new Uint32Array(count);
  for (let i = 0; i < order.length; i++) placeOf[order[i]!] = i + 1;
  const above = new Uint32Array(order.length + 1);
  const NEW = 0xffff_ffff;
  above.fill(NEW, 1);
  for (let isNew = true; isNew;) {
    isNew = false;
    for (let place = 1; place <= order.length; place++) {
      const node = order[place - 1]!;
      let nearest = node < rootCount ? 0 : NEW;
      for (let at = owners.starts[node]!, end = owners.starts[node + 1]!; at < end; at++) {
        if (nearest === 0) break;
        let other = placeOf[owners.targets[at]!]!;
        if (other === 0 || above[other] === NEW) continue;
        if (nearest === NEW) nearest = other;
        while (nearest !== other) {
          while (nearest > other) nearest = above[nearest]!;
          while (other > nearest) other = above[other]!;
        }
      }
      if (above[place] === nearest) continue;
      above[place] = nearest;
      isNew = true;
    }
  }
  const of = new Uint32Array(count);
  for (let node = 0; node < count; node++) of[node] = node;
  for (let place = 1; place <= order.length; place++)
    of[order[place - 1]!] = above[place] === 0 ? START : order[above[place]! - 1]!;
  return { of, order };
}

/** The nodes that the roots reach, each before what it links to, cycles aside. No recursion. */
function reversePostorder({ starts, targets }: Links, rootCount: number): Uint32Array {
  const count = starts.length - 1;
  const isSeen = new Uint8Array(count);
  const cursor = starts.slice(0, count);
  const path = new Uint32Array(count);
  const order = new Uint32Array(count);
  let first = count;
  for (let root = rootCount - 1; root >= 0; root--) {
    if (isSeen[root] === 1) continue;
    isSeen[root] = 1;
    let depth = 0;
    path[0] = root;
    while (depth >= 0) {
      const node = path[depth]!;
      const end = starts[node + 1]!;
      let at = cursor[node]!;
      while (at < end && isSeen[targets[at]!] === 1) at += 1;
      cursor[node] = at + 1;
      if (at < end) {
        const target = targets[at]!;
        isSeen[target] = 1;
        path[++depth] = target;
      } else {
        order[--first] = node;
        depth -= 1;
      }
    }
  }
  return order.subarray(first);
}
