import type { NeedGraph } from './need-graph.js';

/** Projects that require each other in a cycle, each group ascending. O(nodes). */
export function projectCycles(graph: NeedGraph): readonly (readonly number[])[] {
  const { starts, targets } = graph.components.members;
  const cycles: number[][] = [];
  for (let i = 0; i + 1 < starts.length; i++) {
    const first = targets[starts[i]!]!;
    // Most components are one copy alone.
    if (first >= graph.projectCount) continue;
    const members = [...targets.subarray(starts[i], starts[i + 1])];
    const isCycle = members.length > 1 || requires(graph, first, first);
    if (isCycle && members.every((node) => node < graph.projectCount)) cycles.push(members);
  }
  return cycles.sort((a, b) => a[0]! - b[0]!);
}

function requires({ starts, targets }: NeedGraph, owner: number, target: number): boolean {
  return targets.subarray(starts[owner], starts[owner + 1]).includes(target);
}
