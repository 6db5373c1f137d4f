import { distancesFrom, FAR, type Links } from '../links/index.js';
import type { NeedGraph } from './need-graph.js';

/** A node with its distance in steps. */
export interface Reached {
  readonly node: number;
  readonly steps: number;
}

/** What some nodes bring in, at any depth, nearest first; themselves left out. O(links). */
export function whatTheyBring(graph: NeedGraph, nodes: Iterable<number>): readonly Reached[] {
  return reached(graph, nodes);
}

/** Who brings in some nodes, at any depth, nearest first; themselves left out. O(links). */
export function whoBringsThem(graph: NeedGraph, nodes: Iterable<number>): readonly Reached[] {
  return reached(graph.owners, nodes);
}

function reached(links: Links, from: Iterable<number>): readonly Reached[] {
  const found: Reached[] = [];
  distancesFrom(links, from).forEach((steps, node) => {
    if (steps !== FAR && steps > 0) found.push({ node, steps });
  });
  return found.sort((a, b) => a.steps - b.steps || a.node - b.node);
}
