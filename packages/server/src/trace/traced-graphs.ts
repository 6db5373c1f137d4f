import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import {
  Chains,
  retainedSizes,
  needGraph,
  nodesByName,
  projectCycles,
  type DraftBase,
  type RetainedSizes,
  type LinkFilter,
  type NeedGraph,
  type Resolution,
} from '@deep-ledger/core';

/** A graph with what was worked out on it. */
export class TracedGraph {
  private knownChains: Chains | null = null;
  private knownWeights: RetainedSizes | null = null;
  private knownCycles: ReturnType<typeof projectCycles> | null = null;
  private readonly nodes: ReadonlyMap<string, number>;
  private readonly copies = new Map<string, number[]>();

  constructor(
    readonly graph: NeedGraph,
    private readonly base: DraftBase,
  ) {
    this.nodes = nodesByName(graph);
    graph.resolution.copies.forEach(({ name }, i) => {
      const node = graph.projectCount + i;
      const known = this.copies.get(name);
      if (known === undefined) this.copies.set(name, [node]);
      else known.push(node);
    });
  }

  /** Chains from all projects. */
  get chains(): Chains {
    this.knownChains ??= new Chains(this.graph);
    return this.knownChains;
  }

  /** Projects that require each other in a cycle. */
  get cycles(): ReturnType<typeof projectCycles> {
    this.knownCycles ??= projectCycles(this.graph);
    return this.knownCycles;
  }

  get weights(): RetainedSizes {
    this.knownWeights ??= retainedSizes(this.graph, this.bytes());
    return this.knownWeights;
  }

  /** The node of a project's folder, or of name and version of a copy; null: there is none. */
  node(name: string): number | null {
    return this.nodes.get(name) ?? null;
  }

  copiesOf(name: string): readonly number[] {
    return this.copies.get(name) ?? [];
  }

  bytesOf(name: string, version: string): number {
    const releases = this.base.records.get(name)?.releases ?? [];
    return releases.find(({ text }) => text === version)?.archive.bytes ?? 0;
  }

  private bytes(): Float64Array {
    return Float64Array.from(this.graph.resolution.copies, ({ name, version }) =>
      this.bytesOf(name, version),
    );
  }
}

const NOTHING: Resolution = { projects: [], copies: [] };

/** The graphs of snapshots, by what they leave out. */
@Injectable()
export class TracedGraphs {
  private readonly kept = new WeakMap<DraftBase, LRUCache<string, TracedGraph>>();

  of(base: DraftBase, filter: LinkFilter = {}): TracedGraph {
    return this.graph(base, JSON.stringify(filter), () =>
      needGraph(base.lock?.resolution ?? NOTHING, filter),
    );
  }

  /** Projects among themselves. */
  ofProjects(base: DraftBase): TracedGraph {
    const { projects } = base.lock?.resolution ?? NOTHING;
    return this.graph(base, 'projects', () =>
      needGraph({
        projects: projects.map((project) => ({
          ...project,
          requirements: project.requirements.filter(({ answer }) => answer.kind === 'project'),
          supplied: [],
        })),
        copies: [],
      }),
    );
  }

  private graph(base: DraftBase, key: string, make: () => NeedGraph): TracedGraph {
    const kept = this.kept.get(base) ?? new LRUCache<string, TracedGraph>({ max: 8 });
    this.kept.set(base, kept);
    const known = kept.get(key) ?? new TracedGraph(make(), base);
    kept.set(key, known);
    return known;
  }
}
