import { nodeCount, nodeName, type NeedGraph } from './need-graph.js';

/** Every node by its name, for who asks more than once. O(nodes). */
export function nodesByName(graph: NeedGraph): ReadonlyMap<string, number> {
  const nodes = new Map<string, number>();
  for (let node = 0; node < nodeCount(graph); node++) nodes.set(nodeName(graph, node), node);
  return nodes;
}
