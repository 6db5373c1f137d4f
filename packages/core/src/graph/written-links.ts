import type { RetainedSizes } from './retained-sizes.js';
import { LINK_KINDS, nodeName, nodeOf, type LinkKind, type NeedGraph } from './need-graph.js';

/** A link as its owner asks for it. */
export interface WrittenLink {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  /** As the manifest or the release has it; of a supply, the ranges that are asked for. */
  readonly written: string;
  /** What that stands for; `shared` for one is written and a range is meant. */
  readonly range: string;
  readonly kind: LinkKind;
}

export function writtenLink(graph: NeedGraph, owner: number, link: number): WrittenLink {
  const found = nodeOf(graph, owner);
  const index = graph.requirements[link]!;
  const { requirements } = found.kind === 'copy' ? found.copy : found.project;
  const supplied = found.kind === 'copy' ? [] : found.project.supplied;
  const written =
    requirements[index]?.written ?? supplied[index - requirements.length]?.ranges.join(' ') ?? '';
  return {
    owner: nodeName(graph, owner),
    written,
    range: requirements[index]?.range ?? written,
    kind: LINK_KINDS[graph.kinds[link]!]!,
  };
}

/** What is asked of a node, in the order of its owners. O(owners). */
export function demandsOn(graph: NeedGraph, node: number): readonly WrittenLink[] {
  const { starts, targets, positions } = graph.owners;
  const demands: WrittenLink[] = [];
  for (let at = starts[node]!; at < starts[node + 1]!; at++)
    demands.push(writtenLink(graph, targets[at]!, positions[at]!));
  return demands;
}

/** The link from one node to another, the first where there are several; null: there is none. O(links of the owner). */
export function linkBetween(graph: NeedGraph, owner: number, target: number): WrittenLink | null {
  for (let at = graph.starts[owner]!; at < graph.starts[owner + 1]!; at++)
    if (graph.targets[at] === target) return writtenLink(graph, owner, at);
  return null;
}

/** A project's requirement on a package, with what leaves when it is struck out. */
export interface WeighedRequirement extends WrittenLink {
  readonly name: string;
  readonly version: string;
  /** Copies, and bytes of their archives. */
  readonly copies: number;
  readonly bytes: number;
}

/** The requirements of projects on packages, the heaviest first. O(links of projects, sorted). */
export function weighedRequirements(
  graph: NeedGraph,
  weights: RetainedSizes,
): readonly WeighedRequirement[] {
  const found: WeighedRequirement[] = [];
  for (let owner = 0; owner < graph.projectCount; owner++) {
    for (let at = graph.starts[owner]!; at < graph.starts[owner + 1]!; at++) {
      const node = graph.targets[at]!;
      const target = nodeOf(graph, node);
      if (target.kind === 'project' || LINK_KINDS[graph.kinds[at]!] === 'supplied') continue;
      const isSole = weights.isSoleWay[at] === 1;
      found.push({
        ...writtenLink(graph, owner, at),
        name: target.copy.name,
        version: target.copy.version,
        copies: isSole ? weights.copies[node]! : 0,
        bytes: isSole ? weights.bytes[node]! : 0,
      });
    }
  }
  const keyOf = ({ owner, name }: WeighedRequirement): string => `${owner} ${name}`;
  return found.sort(
    (a, b) => b.copies - a.copies || b.bytes - a.bytes || (keyOf(a) < keyOf(b) ? -1 : 1),
  );
}
