/**
 * Links between nodes that are numbered from 0, in compressed rows: node i links to
 * targets[starts[i]] up to, not including, targets[starts[i + 1]]. `starts` has one entry more than
 * there are nodes.
 */
export interface Links {
  readonly starts: Uint32Array;
  readonly targets: Uint32Array;
}

/** Rows from lists, one for each node. O(nodes + links). */
export function linksOf(lists: readonly (readonly number[])[]): Links {
  const starts = new Uint32Array(lists.length + 1);
  lists.forEach((list, i) => (starts[i + 1] = starts[i]! + list.length));
  const targets = new Uint32Array(starts[lists.length]!);
  lists.forEach((list, i) => targets.set(list, starts[i]!));
  return { starts, targets };
}

/**
 * The same links the other way round. The sources of a node ascend.
 * @param nodeCount of the targets, where it is not that of the sources
 * @returns beside the links, for each of them the position that it has in `links`
 * O(nodes + links).
 */
export function reverseLinks(
  { starts, targets }: Links,
  nodeCount: number = starts.length - 1,
): Links & { readonly positions: Uint32Array } {
  const reversed = new Uint32Array(nodeCount + 1);
  for (const target of targets) reversed[target + 1]! += 1;
  for (let i = 0; i < nodeCount; i++) reversed[i + 1]! += reversed[i]!;
  const next = reversed.slice(0, nodeCount);
  const sources = new Uint32Array(targets.length);
  const positions = new Uint32Array(targets.length);
  for (let source = 0; source + 1 < starts.length; source++) {
    for (let at = starts[source]!; at < starts[source + 1]!; at++) {
      const place = next[targets[at]!]!++;
      sources[place] = source;
      positions[place] = at;
    }
  }
  return { starts: reversed, targets: sources, positions };
}

/** Stands for a node that no walk reached. */
export const FAR = 0xffff_ffff;

/**
 * Steps from the nearest of some nodes to every node, by a breadth-first walk; `FAR` where there is no
 * way. O(nodes + links).
 */
export function distancesFrom({ starts, targets }: Links, from: Iterable<number>): Uint32Array {
  const count = starts.length - 1;
  const distances = new Uint32Array(count).fill(FAR);
  const queue = new Uint32Array(count);
  let end = 0;
  for (const node of from) {
    if (distances[node] !== FAR) continue;
    distances[node] = 0;
    queue[end++] = node;
  }
  for (let next = 0; next < end; next++) {
    const node = queue[next]!;
    const steps = distances[node]! + 1;
    for (let at = starts[node]!, stop = starts[node + 1]!; at < stop; at++) {
      const target = targets[at]!;
      if (distances[target] !== FAR) continue;
      distances[target] = steps;
      queue[end++] = target;
    }
  }
  return distances;
}
