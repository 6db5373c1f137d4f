import type { Links } from './links.js';

export interface Components {
  /** Number of the component of each node. A component links only to itself and to lower numbers. */
  readonly of: Uint32Array;
  /** The nodes of each component, ascending. */
  readonly members: Links;
}

/**
 * Groups the nodes that reach each other in a cycle; a node in no cycle is a group by itself.
 * O(nodes + links); no recursion, so long chains are safe.
 * Source: R. Tarjan, Depth-first search and linear graph algorithms, SIAM J. Comput. 1(2), 1972.
 */
export function strongComponents({ starts, targets }: Links): Components {
  const count = starts.length - 1;
  const NEW = 0;
  const index = new Uint32Array(count);
  const low = new Uint32Array(count);
  const cursor = starts.slice(0, count);
  const of = new Uint32Array(count);
  const onStack = new Uint8Array(count);
  const stack = new Uint32Array(count);
  const path = new Uint32Array(count);
  const sizes: number[] = [];
  let stackTop = 0;
  let visited = 0;
  for (let root = 0; root < count; root++) {
    if (index[root] !== NEW) continue;
    let depth = 0;
    path[0] = root;
    enter(root);
    while (depth >= 0) {
      const at = path[depth]!;
      if (cursor[at]! < starts[at + 1]!) {
        const next = targets[cursor[at]!++]!;
        if (index[next] === NEW) {
          path[++depth] = next;
          enter(next);
        } else if (onStack[next] === 1 && index[next]! < low[at]!) low[at] = index[next]!;
        continue;
      }
      depth -= 1;
      if (depth >= 0 && low[at]! < low[path[depth]!]!) low[path[depth]!] = low[at]!;
      if (low[at] === index[at]) leave(at);
    }
  }
  return { of, members: membersOf(of, sizes) };

  function enter(node: number): void {
    visited += 1;
    index[node] = low[node] = visited;
    stack[stackTop++] = node;
    onStack[node] = 1;
  }

  function leave(first: number): void {
    let size = 0;
    for (let member = -1; member !== first; size++) {
      member = stack[--stackTop]!;
      onStack[member] = 0;
      of[member] = sizes.length;
    }
    sizes.push(size);
  }
}

function membersOf(of: Uint32Array, sizes: readonly number[]): Links {
  const starts = new Uint32Array(sizes.length + 1);
  sizes.forEach((size, i) => (starts[i + 1] = starts[i]! + size));
  const next = starts.slice(0, sizes.length);
  const targets = new Uint32Array(of.length);
  of.forEach((component, node) => (targets[next[component]!++] = node));
  return { starts, targets };
}
