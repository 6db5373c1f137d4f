import { reverseLinks, strongComponents, type Components, type Links } from '../links/index.js';
import { REQUIREMENT_KINDS } from '../manifest/index.js';
import {
  copyKey,
  type AnsweredRequirement,
  type Copy,
  type ProjectAnswers,
  type Resolution,
} from '../resolve/index.js';
import { globMatcher } from '../text/index.js';

/** The kinds of links: those of requirements, and peers that a project was supplied with. */
export const LINK_KINDS = [...REQUIREMENT_KINDS, 'supplied'] as const;
export type LinkKind = (typeof LINK_KINDS)[number];

/**
 * Who requires whom in a resolution. Nodes: the projects in their order, then the copies in theirs. A node's
 * links follow each other as its requirements do.
 */
export interface NeedGraph extends Links {
  readonly projectCount: number;
  /** Index in LINK_KINDS of each link. */
  readonly kinds: Uint8Array;
  /** The requirement behind each link: its index among those of its owner; supplies follow them. */
  readonly requirements: Uint32Array;
  /** The same links the other way round; `positions` leads back to them. */
  readonly owners: Links & { readonly positions: Uint32Array };
  /** Nodes that require each other in a cycle. */
  readonly components: Components;
  readonly resolution: Resolution;
}

/** Which links are followed. */
export interface LinkFilter {
  readonly kinds?: readonly LinkKind[];
  /** Links that are for other targets alone are left out. */
  readonly target?: string;
}

/** O(requirements). */
export function needGraph(resolution: Resolution, filter: LinkFilter = {}): NeedGraph {
  const { projects, copies } = resolution;
  const nodeCount = projects.length + copies.length;
  const byProject = new Map(projects.map(({ folder }, i) => [folder, i]));
  const byName = new Map<string, number[]>();
  copies.forEach(({ name }, i) => {
    const same = byName.get(name);
    if (same === undefined) byName.set(name, [i]);
    else same.push(i);
  });
  const copyAt = (name: string, version: string): number | null => {
    const found = byName.get(name)?.find((i) => copies[i]!.version === version);
    return found === undefined ? null : projects.length + found;
  };
  const takes = linkTest(filter);
  const starts = new Uint32Array(nodeCount + 1);
  const targets: number[] = [];
  const kinds: number[] = [];
  const requirements: number[] = [];
  const add = (target: number | null | undefined, kind: LinkKind, index: number): void => {
    if (target === null || target === undefined) return;
    targets.push(target);
    kinds.push(LINK_KINDS.indexOf(kind));
    requirements.push(index);
  };
  const addAll = (all: readonly AnsweredRequirement[]): void => {
    all.forEach((requirement, index) => {
      const { name, kind, answer } = requirement;
      if (!takes(kind, requirement.when)) return;
      if (answer.kind === 'copy') add(copyAt(name, answer.version), kind, index);
      else if (answer.kind === 'project') add(byProject.get(answer.folder), kind, index);
    });
  };
  projects.forEach((project, i) => {
    addAll(project.requirements);
    project.supplied.forEach(({ name, version }, k) => {
      if (version !== null && takes('supplied', []))
        add(copyAt(name, version), 'supplied', project.requirements.length + k);
    });
    starts[i + 1] = targets.length;
  });
  copies.forEach((copy, i) => {
    addAll(copy.requirements);
    starts[projects.length + i + 1] = targets.length;
  });
  const links = { starts, targets: new Uint32Array(targets) };
  return {
    ...links,
    projectCount: projects.length,
    kinds: new Uint8Array(kinds),
    requirements: new Uint32Array(requirements),
    owners: reverseLinks(links),
    components: strongComponents(links),
    resolution,
  };
}

function linkTest({
  kinds,
  target,
}: LinkFilter): (kind: LinkKind, when: readonly string[]) => boolean {
  return (kind, when) =>
    (kinds?.includes(kind) ?? true) &&
    (target === undefined || when.length === 0 || globMatcher(when)(target));
}

export function nodeCount({ starts }: Links): number {
  return starts.length - 1;
}

/** What a node stands for. */
export function nodeOf(
  { projectCount, resolution }: NeedGraph,
  node: number,
):
  | { readonly kind: 'project'; readonly project: ProjectAnswers }
  | { readonly kind: 'copy'; readonly copy: Copy } {
  return node < projectCount
    ? { kind: 'project', project: resolution.projects[node]! }
    : { kind: 'copy', copy: resolution.copies[node - projectCount]! };
}

/** A project's folder, or name and version of a copy. */
export function nodeName(graph: NeedGraph, node: number): string {
  const found = nodeOf(graph, node);
  return found.kind === 'project' ? found.project.folder : copyKey(found.copy);
}

/** The node of a project's folder, or of name and version of a copy, or null. O(nodes). */
export function nodeNamed(graph: NeedGraph, name: string): number | null {
  for (let node = 0; node < nodeCount(graph); node++)
    if (nodeName(graph, node) === name) return node;
  return null;
}
