import type { ReleasePeer } from '../../registry/index.js';
import { rangeContains, requireVersion, type Version } from '../../version/index.js';
import type { Project, Requirement } from '../../workspace/index.js';
import { NONE, type Demand } from '../model/demand.js';
import { byKindAndName } from '../model/resolution.js';
import type { Settlement } from '../choose/settlement.js';

/** What stands nearest above a copy for one of its peers, along one or more chains. */
export type Provider =
  /** The answer of an owner's demand on the peer: a release, or NONE where its optional need was skipped. */
  | { readonly kind: 'release'; readonly demand: Demand }
  /** A project of the workspace that bears the peer's name. */
  | { readonly kind: 'project'; readonly project: Project }
  /** A project above has nothing of that name. */
  | { readonly kind: 'none'; readonly project: number };

/** Copies that ask for the same peer in the same range. */
export interface PeerGroup {
  readonly peer: ReleasePeer;
  /** Ascending. */
  readonly copies: readonly number[];
}

/** A provider with the chain that leads from it, or from the project where it is missing, down to the copy. */
export interface ProvidedPeer {
  readonly copy: number;
  readonly peer: ReleasePeer;
  readonly provider: Provider;
  /** The demands of the chain, the nearest to the copy first. */
  readonly chain: readonly Demand[];
}

/**
 * Finds what provides the peers of copies: the nearest owner up a chain that requires the package, at
 * last the project itself. One peer has as many providers as its chains have.
 */
export class PeerProviders {
  private readonly askers = new Map<number, Demand[]>();
  private readonly projectByFolder: ReadonlyMap<string, Project>;

  constructor(
    private readonly settlement: Settlement,
    private readonly projects: readonly Project[],
  ) {
    this.projectByFolder = new Map(projects.map((project) => [project.folder, project]));
  }

  /** All peers of all copies, each asked for in the same way once. O(copies of packages with peers). */
  groups(): readonly PeerGroup[] {
    const { releases } = this.settlement.catalog;
    const groups = new Map<string, { readonly peer: ReleasePeer; readonly copies: number[] }>();
    const { packagesWithPeers } = this.settlement.catalog;
    for (const copy of packagesWithPeers.flatMap((one) => this.settlement.copiesOf(one))) {
      for (const peer of releases[copy]!.peers) {
        const key = `${peer.name} ${String(peer.isOptional)} ${peer.range}`;
        const group = groups.get(key);
        if (group === undefined) groups.set(key, { peer, copies: [copy] });
        else group.copies.push(copy);
      }
    }
    return [...groups].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, group]) => group);
  }

  /**
   * What provides a package to any of these copies, each provider once. O(demands above them).
   * @param passes whether a chain may lead through a demand
   */
  providersAbove(
    copies: readonly number[],
    name: string,
    passes: (demand: Demand) => boolean = () => true,
  ): readonly Provider[] {
    const found: Provider[] = [];
    const visit = (provider: Provider): unknown => found.push(provider);
    this.walkUp(copies, name, visit, undefined, passes);
    return found;
  }

  /** What provides a peer to one copy, with a shortest chain to each. O(demands above it). */
  providersOf(copy: number, peer: ReleasePeer): readonly ProvidedPeer[] {
    const found: ProvidedPeer[] = [];
    const below = new Map<number, Demand>();
    this.walkUp(
      [copy],
      peer.name,
      (provider, demand) => {
        const chain = [demand];
        for (let next = below.get(demand.answer); next; next = below.get(next.answer))
          chain.push(next);
        found.push({ copy, peer, provider, chain: chain.reverse() });
      },
      below,
    );
    return found;
  }

  /** Visits owners breadth first, and goes no further where one provides the package. */
  private walkUp(
    copies: readonly number[],
    name: string,
    visit: (provider: Provider, demand: Demand) => void,
    below?: Map<number, Demand>,
    passes: (demand: Demand) => boolean = () => true,
  ): void {
    // Numbers are compared in place of names: a tenth of the time at 1,000 projects.
    const target = this.settlement.catalog.numberOf.get(name) ?? NONE;
    const seen = new Set<number>();
    const queued = new Set(copies);
    const queue = [...copies];
    for (let at = 0; at < queue.length; at++) {
      for (const demand of this.askersOf(queue[at]!)) {
        const { owner } = demand;
        // A chain does not pass the copy twice.
        if (seen.has(owner) || (copies.length === 1 && owner === copies[0])) continue;
        if (!passes(demand)) continue;
        seen.add(owner);
        below?.set(owner, demand);
        const provider = this.providerAt(owner, name, target);
        if (provider !== null) visit(provider, demand);
        else if (!queued.has(owner)) {
          queued.add(owner);
          queue.push(owner);
        }
      }
    }
  }

  private askersOf(release: number): readonly Demand[] {
    const known = this.askers.get(release);
    if (known !== undefined) return known;
    const { catalog, demandsOn } = this.settlement;
    const packageNumber = catalog.packageOf[release]!;
    for (const copy of this.settlement.copiesOf(packageNumber)) this.askers.set(copy, []);
    for (const demand of demandsOn[packageNumber]!)
      if (demand.answer !== NONE) this.askers.get(demand.answer)!.push(demand);
    // Lists of demands change their order as demands come and go; chains must not.
    for (const copy of this.settlement.copiesOf(packageNumber))
      this.askers.get(copy)!.sort((a, b) => a.owner - b.owner);
    return this.askers.get(release) ?? [];
  }

  /** Null: nothing of that name here, look further up. */
  private providerAt(owner: number, name: string, target: number): Provider | null {
    if (owner >= 0) return this.releaseDemand(owner, target);
    const index = ~owner;
    const demands = this.settlement.projectDemands(index);
    const { requirements } = this.projects[index]!;
    let best: Requirement | null = null;
    let found: Provider | null = null;
    for (let i = 0; i < requirements.length; i++) {
      const demand = demands[i] ?? null;
      if (demand !== null && demand.pool.package !== target) continue;
      const requirement = requirements[i]!;
      if (demand === null && requirement.name !== name) continue;
      if (best !== null && byKindAndName(best, requirement) < 0) continue;
      const { meaning } = requirement;
      if (meaning.kind === 'project')
        found = { kind: 'project', project: this.projectByFolder.get(meaning.folder)! };
      else if (demand !== null && demand.answer !== NONE) found = { kind: 'release', demand };
      else continue;
      best = requirement;
    }
    if (found !== null) return found;
    const supply = this.settlement.supplyDemand(index, name);
    return supply === null ? { kind: 'none', project: index } : { kind: 'release', demand: supply };
  }

  private releaseDemand(release: number, target: number): Provider | null {
    const { firstNeed, neededPackage } = this.settlement.catalog;
    for (let need = firstNeed[release]!; need < firstNeed[release + 1]!; need++) {
      if (neededPackage[need] !== target) continue;
      const demand = this.settlement.needDemands(release)[need - firstNeed[release]!];
      if (demand && demand.answer !== NONE) return { kind: 'release', demand };
    }
    return null;
  }

  /** The version that a provider gives, or null. */
  versionOf(provider: Provider): Version | null {
    switch (provider.kind) {
      case 'release': {
        const { answer } = provider.demand;
        return answer === NONE ? null : this.settlement.catalog.releases[answer]!.version;
      }
      case 'project':
        return provider.project.version === null ? null : requireVersion(provider.project.version);
      case 'none':
        return null;
    }
  }

  /** Does the provider give what the peer asks for? A peer that is optional may be missing. */
  isMet(peer: ReleasePeer, provider: Provider): boolean {
    if (provider.kind === 'none') return peer.isOptional;
    if (provider.kind === 'release' && provider.demand.answer === NONE) return peer.isOptional;
    const version = this.versionOf(provider);
    const range = this.settlement.usable.ranges.of(peer.name, peer.range);
    return version !== null && rangeContains(range, version);
  }
}
