import { Injectable } from '@nestjs/common';
import {
  Chains,
  demandsOn,
  retainedBy,
  leavingWithoutLinks,
  linkBetween,
  mergedChains,
  nodeName,
  nodeOf,
  traceOf,
  weighedRequirements,
  whatTheyBring,
  whoBringsThem,
  type Chain,
  type DraftBase,
  type LinkEnds,
  type NamedLink,
  type NeedGraph,
  type Trace,
} from '@deep-ledger/core';
import { AnswersService } from '../answers/answers.service.js';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { TracedGraphs, type TracedGraph } from './traced-graphs.js';
import type {
  ChainDto,
  ChainsDto,
  ChainsQuery,
  ChainStepDto,
  LeavingDto,
  TraceDto,
  TraceNodeDto,
  TraceQuery,
  TraceSubjectQuery,
  WeightDto,
  WhySeveralDto,
  WithoutAnswerDto,
} from './trace.dto.js';

const MOST_IN_A_COLUMN = 18;
const CHAINS_AT_ONCE = 50;
/** A filter that almost nothing passes is given up after so many chains. */
const MOST_LOOKED_AT = 50_000;
const MOST_WEIGHTS = 2000;

interface Subject {
  readonly kind: TraceDto['subject'];
  readonly direction: 'up' | 'down';
  readonly traced: TracedGraph;
  readonly ends: readonly number[];
}

/** Answers who brings what in. */
@Injectable()
export class TraceService {
  constructor(
    private readonly graphs: TracedGraphs,
    private readonly answers: AnswersService,
  ) {}

  /** @throws Problem NOTHING_TO_TRACE */
  trace(commit: string, base: DraftBase, query: TraceQuery): TraceDto {
    const { kind, direction, traced, ends } = this.subject(base, query);
    const { graph } = traced;
    const from = this.optional(traced, query.from);
    const through = this.optional(traced, query.through);
    const trace = traceOf(graph, {
      direction,
      ends,
      most: MOST_IN_A_COLUMN,
      ...(from === null ? {} : { from: [from] }),
      ...(through === null ? {} : { through }),
      ...(query.open === undefined ? {} : { open: new Set(query.open) }),
    });
    const { cycles } = traced;
    return {
      commit,
      subject: kind,
      direction,
      targets: [...(base.workspace?.targets ?? [])],
      ends: ends.map((end) => nodeName(graph, end)),
      columns: trace.columns,
      nodes: toNodes(graph, trace, new Set(cycles.flat())),
      links: trace.links.map((link) => ({ ...link, leadsTo: [...link.leadsTo] })),
      size: trace.size,
      chains: direction === 'up' ? total(this.chainsFrom(traced, from), ends) : null,
      projects: this.projectsOf(traced, direction, ends, from),
      cycles: cycles.map((cycle) => cycle.map((node) => nodeName(graph, node))),
    };
  }

  /** @throws Problem NOTHING_TO_TRACE */
  chains(base: DraftBase, query: ChainsQuery): ChainsDto {
    const { direction, traced, ends } = this.subject(base, query);
    const { graph } = traced;
    const from = this.optional(traced, query.from);
    const through = this.optional(traced, query.through);
    const skip = query.skip ?? 0;
    const wanted = query.count ?? CHAINS_AT_ONCE;
    // Chains that begin at a project reach what it brings.
    const isUp = direction === 'up';
    const chains = isUp ? this.chainsFrom(traced, from) : new Chains(graph, ends);
    const to = isUp ? ends : whatTheyBring(graph, ends).map(({ node }) => node);
    const found: ChainDto[] = [];
    let passed = 0;
    let looked = 0;
    let hasMore = false;
    for (const chain of mergedChains(chains, to)) {
      looked += 1;
      if (chain.length - 1 > (query.steps ?? Infinity) || looked > MOST_LOOKED_AT) break;
      if (through !== null && !chain.includes(through)) continue;
      passed += 1;
      if (passed <= skip) continue;
      if (found.length === wanted) {
        hasMore = true;
        break;
      }
      found.push({ steps: toSteps(graph, chain) });
    }
    const isPlain = query.steps === undefined && through === null;
    const whole = isPlain && isUp ? total(chains, ends) : null;
    const isCounted = !hasMore && looked <= MOST_LOOKED_AT;
    return { chains: found, total: whole ?? (isCounted ? String(passed) : null), hasMore };
  }

  /** @throws Problem NOTHING_TO_TRACE */
  leaving(base: DraftBase, name: string): LeavingDto {
    const traced = this.graphs.of(base);
    const node = this.nodeNamed(traced, name);
    const { graph, weights } = traced;
    const copies = retainedBy(weights, node)
      .filter((one) => one >= graph.projectCount && one !== node)
      .map((one) => nodeName(graph, one));
    return { node: name, copies: copies.sort(), bytes: weights.bytes[node]! };
  }

  /**
   * The copies that nothing brings any more once links are struck out.
   * @throws Problem NOTHING_TO_TRACE
   */
  without(base: DraftBase, links: readonly NamedLink[]): Omit<WithoutAnswerDto, 'commit'> {
    const traced = this.graphs.of(base);
    const { graph } = traced;
    const struck = links.map(({ from, to }): LinkEnds => {
      const ends: LinkEnds = [this.nodeNamed(traced, from), this.nodeNamed(traced, to)];
      if (linkBetween(graph, ...ends) === null) throw nothing(`${from} does not require ${to}.`);
      return ends;
    });
    const copies = leavingWithoutLinks(graph, struck).flatMap((node) => {
      const found = nodeOf(graph, node);
      return found.kind === 'copy' ? [found.copy] : [];
    });
    return {
      copies: copies.map(({ name, version }) => `${name} ${version}`),
      bytes: copies.reduce((sum, { name, version }) => sum + traced.bytesOf(name, version), 0),
    };
  }

  /** Requirements of projects by what leaves with each, heaviest first. */
  weights(base: DraftBase): WeightDto[] {
    const { graph, weights } = this.graphs.of(base);
    return weighedRequirements(graph, weights)
      .slice(0, MOST_WEIGHTS)
      .map(({ owner, name, kind, ...rest }) => ({
        ...rest,
        project: owner,
        package: name,
        link: kind,
      }));
  }

  /** The copies of a package side by side: what asks for each, what forces them, and which could go. */
  async several(entity: WorkspaceEntity, snapshot: Snapshot, name: string): Promise<WhySeveralDto> {
    const { base } = snapshot;
    const traced = this.graphs.of(base);
    const nodes = traced.copiesOf(name);
    const { workspace, lock } = base;
    if (nodes.length === 0 || workspace === null || lock?.resolution == null)
      throw nothing(`There is no copy of ${name} in the lockfile.`);
    const { graph } = traced;
    const { resolution } = lock;
    const { least, forcedBy, needless } = await this.answers.ask<'several'>(entity, snapshot, {
      kind: 'several',
      package: name,
    });
    return {
      package: name,
      copiesNow: resolution.copies.length,
      copies: nodes.map((node) => {
        const found = nodeOf(graph, node);
        const version = found.kind === 'copy' ? found.copy.version : '';
        return {
          version,
          chains: total(traced.chains, [node]),
          projects: this.projectsOf(traced, 'up', [node], null),
          bytes: traced.bytesOf(name, version),
          demands: demandsOn(graph, node).map(({ owner, written }) => ({
            owner,
            range: written,
          })),
        };
      }),
      least,
      forcedBy: forcedBy.map(({ owner, range }) => ({ owner, range })),
      needless: needless.map(({ version, rePicks, copiesAfter }) => ({
        version,
        rePicks: rePicks.map((one) => ({ ...one })),
        copiesAfter,
      })),
    };
  }

  private subject(base: DraftBase, query: TraceSubjectQuery): Subject {
    const { package: name, version, project, kinds, target } = query;
    if (name === undefined && project === undefined) {
      const traced = this.graphs.ofProjects(base);
      const { graph } = traced;
      const all = Array.from({ length: graph.projectCount }, (_, i) => i);
      return { kind: 'workspace', direction: 'down', traced, ends: all };
    }
    const traced = this.graphs.of(base, {
      ...(kinds === undefined || kinds.length === 0 ? {} : { kinds }),
      ...(target === undefined || target === '' ? {} : { target }),
    });
    if (project !== undefined) {
      const node = this.nodeNamed(traced, project);
      return { kind: 'project', direction: query.direction ?? 'down', traced, ends: [node] };
    }
    const direction = query.direction ?? 'up';
    if (version !== undefined)
      return {
        kind: 'copy',
        direction,
        traced,
        ends: [this.nodeNamed(traced, `${name!} ${version}`)],
      };
    const ends = traced.copiesOf(name!);
    if (ends.length === 0)
      throw nothing(`Nothing in the lockfile brings ${name} in. Has the workspace no need of it?`);
    return { kind: 'package', direction, traced, ends };
  }

  private nodeNamed(traced: TracedGraph, name: string): number {
    const node = traced.node(name);
    if (node === null)
      throw nothing(`The lockfile has neither a project in ${name} nor a copy of that name.`);
    return node;
  }

  private optional(traced: TracedGraph, name: string | undefined): number | null {
    return name === undefined || name === '' ? null : this.nodeNamed(traced, name);
  }

  private chainsFrom(traced: TracedGraph, from: number | null): Chains {
    return from === null ? traced.chains : new Chains(traced.graph, [from]);
  }

  /** Projects at which chains begin, or to which they lead. */
  private projectsOf(
    { graph }: TracedGraph,
    direction: 'up' | 'down',
    ends: readonly number[],
    from: number | null,
  ): number {
    const reached = direction === 'up' ? whoBringsThem(graph, ends) : whatTheyBring(graph, ends);
    return reached.filter(
      ({ node }) => node < graph.projectCount && (from === null || node === from),
    ).length;
  }
}

function nothing(detail: string): Problem {
  return new Problem('NOTHING_TO_TRACE', 404, 'Nothing to trace', detail);
}

function total(chains: Chains, ends: readonly number[]): string | null {
  let sum = 0n;
  for (const end of ends) {
    const count = chains.count(end);
    if (count === null) return null;
    sum += count;
  }
  return String(sum);
}

function toNodes(graph: NeedGraph, trace: Trace, inCycle: ReadonlySet<number>): TraceNodeDto[] {
  return trace.nodes.map(({ node, leadsTo, ...place }) => {
    const common = { ...place, leadsTo: [...leadsTo] };
    if (node === null)
      return {
        ...common,
        id: null,
        kind: 'more',
        name: `and ${place.count} more`,
        version: null,
        isInCycle: false,
      };
    const found = nodeOf(graph, node);
    return {
      ...common,
      id: nodeName(graph, node),
      kind: found.kind,
      name: found.kind === 'project' ? found.project.name : found.copy.name,
      version: found.kind === 'project' ? null : found.copy.version,
      isInCycle: inCycle.has(node),
    };
  });
}

function toSteps(graph: NeedGraph, chain: Chain): ChainStepDto[] {
  return chain.map((node, i) => {
    const found = nodeOf(graph, node);
    const step = {
      id: nodeName(graph, node),
      kind: found.kind,
      name: found.kind === 'project' ? found.project.name : found.copy.name,
      version: found.kind === 'project' ? null : found.copy.version,
    };
    const owner = chain[i - 1];
    const link = owner === undefined ? null : linkBetween(graph, owner, node);
    return { ...step, written: link?.written ?? null, link: link?.kind ?? null };
  });
}
