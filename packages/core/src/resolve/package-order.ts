import type { PackageRecords } from '../registry/index.js';

/**
 * Packages in groups: each group needs only packages of its own and of later groups, so all demands
 * on a group are known once the groups before it are answered. Groups of more than one package, or of
 * one that needs itself, are circles. Names are taken in sorted order, so the result does not depend
 * on that of the records.
 * O(packages + needs); no recursion, so long chains are safe.
 * Source: R. Tarjan, Depth-first search and linear graph algorithms, SIAM J. Comput. 1(2), 1972.
 */
export function packageOrder(records: PackageRecords): readonly (readonly string[])[] {
  const names = [...records.keys()].sort();
  const number = new Map(names.map((name, i) => [name, i]));
  const targets = names.map((name) => {
    const needed = new Set<number>();
    for (const { needs } of records.get(name)?.releases ?? []) {
      for (const need of needs) {
        const target = number.get(need.name);
        if (target !== undefined) needed.add(target);
      }
    }
    return [...needed].sort((a, b) => a - b);
  });

  const index = new Int32Array(names.length).fill(-1);
  const low = new Int32Array(names.length);
  const cursor = new Int32Array(names.length);
  const onStack = new Uint8Array(names.length);
  const stack: number[] = [];
  const groups: string[][] = [];
  let visited = 0;
  for (let root = 0; root < names.length; root++) {
    if (index[root] !== -1) continue;
    const path = [root];
    while (path.length > 0) {
      const at = path.at(-1)!;
      if (index[at] === -1) {
        index[at] = low[at] = visited++;
        stack.push(at);
        onStack[at] = 1;
      }
      const next = targets[at]![cursor[at]!];
      if (next !== undefined) {
        cursor[at]! += 1;
        if (index[next] === -1) path.push(next);
        else if (onStack[next] === 1) low[at] = Math.min(low[at]!, index[next]!);
        continue;
      }
      path.pop();
      const parent = path.at(-1);
      if (parent !== undefined) low[parent] = Math.min(low[parent]!, low[at]!);
      if (low[at] !== index[at]) continue;
      const group: string[] = [];
      for (let member = -1; member !== at;) {
        member = stack.pop()!;
        onStack[member] = 0;
        group.push(names[member]!);
      }
      groups.push(group.sort());
    }
  }
  return groups.reverse();
}
