import type { ReleasePeer } from '../../registry/index.js';
import { requireVersion, type Range, type Version } from '../../version/index.js';
import type { Project, Requirement } from '../../workspace/index.js';
import type { Settlement } from '../choose/settlement.js';
import { NONE, type Demand } from '../model/demand.js';
import { byKindAndName } from '../model/resolution.js';
import type { PeerSource, Provider } from './peer-source.js';

/** The answers of a settlement as they stand. Copies are numbered as releases are. */
export class SettledPeers implements PeerSource<Demand> {
  private readonly askers = new Map<number, Demand[]>();
  private readonly projectByFolder: ReadonlyMap<string, Project>;

  constructor(
    private readonly settlement: Settlement,
    private readonly projects: readonly Project[],
  ) {
    this.projectByFolder = new Map(projects.map((project) => [project.folder, project]));
  }

  copiesWithPeers(): readonly number[] {
    const { catalog } = this.settlement;
    return catalog.packagesWithPeers.flatMap((one) => this.settlement.copiesOf(one));
  }

  peersOf(copy: number): readonly ReleasePeer[] {
    return this.settlement.catalog.releases[copy]!.peers;
  }

  askersOf(release: number): readonly Demand[] {
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

  providersNamed(name: string): (owner: number) => Provider<Demand> | null {
    // Numbers are compared in place of names: a tenth of the time at 1,000 projects.
    const target = this.settlement.catalog.numberOf.get(name) ?? NONE;
    return (owner) =>
      owner >= 0 ? this.releaseDemand(owner, target) : this.projectProvider(~owner, name, target);
  }

  supplyOf(link: Demand): string | null {
    return this.settlement.isSupply(link)
      ? this.settlement.catalog.names[link.pool.package]!
      : null;
  }

  versionOf(copy: number): Version {
    return this.settlement.catalog.releases[copy]!.version;
  }

  rangeOf(name: string, text: string): Range {
    return this.settlement.usable.ranges.of(name, text);
  }

  private projectProvider(index: number, name: string, target: number): Provider<Demand> {
    const demands = this.settlement.projectDemands(index);
    const { requirements } = this.projects[index]!;
    let best: Requirement | null = null;
    let found: Provider<Demand> | null = null;
    for (let i = 0; i < requirements.length; i++) {
      const demand = demands[i] ?? null;
      if (demand !== null && demand.pool.package !== target) continue;
      const requirement = requirements[i]!;
      if (demand === null && requirement.name !== name) continue;
      if (best !== null && byKindAndName(best, requirement) < 0) continue;
      const { meaning } = requirement;
      if (meaning.kind === 'project') found = this.ofProject(meaning.folder);
      else if (demand !== null && demand.answer !== NONE) found = { kind: 'release', link: demand };
      else continue;
      best = requirement;
    }
    if (found !== null) return found;
    const supply = this.settlement.supplyDemand(index, name);
    return supply === null ? { kind: 'none', project: index } : { kind: 'release', link: supply };
  }

  private ofProject(folder: string): Provider<Demand> {
    const { version } = this.projectByFolder.get(folder)!;
    return { kind: 'project', version: version === null ? null : requireVersion(version) };
  }

  private releaseDemand(release: number, target: number): Provider<Demand> | null {
    const { firstNeed, neededPackage } = this.settlement.catalog;
    for (let need = firstNeed[release]!; need < firstNeed[release + 1]!; need++) {
      if (neededPackage[need] !== target) continue;
      const demand = this.settlement.needDemands(release)[need - firstNeed[release]!];
      if (demand && demand.answer !== NONE) return { kind: 'release', link: demand };
    }
    return null;
  }
}
