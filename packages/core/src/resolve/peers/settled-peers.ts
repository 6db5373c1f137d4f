import type { ReleasePeer } from '../../registry/index.js';
import { requireVersion, type Range, type Version } from '../../version/index.js';
import type { Project, Requirement } from '../../workspace/index.js';
import type { Settlement } from '../choose/settlement.js';
import { NONE, type Demand } from '../model/demand.js';
import { byKindAndName } from '../model/resolution.js';
import type { PeerSource, Provider } from './peer-source.js';

/** The demands on one package. */
interface DemandsByOwner {
  readonly ofReleases: ReadonlyMap<number, Demand>;
  readonly ofProjects: ReadonlyMap<number, Demand | 'several'>;
}

/** The answers of a settlement as they stand. Copies are numbered as releases are. */
export class SettledPeers implements PeerSource<Demand> {
  private readonly askers = new Map<number, Demand[]>();
  private readonly byOwner = new Map<number, DemandsByOwner>();
  private projects: readonly Project[] = [];
  private projectByFolder: ReadonlyMap<string, Project> | null = null;
  /** Names under which projects require others of the workspace. */
  private namesOfProjects: ReadonlySet<string> | null = null;
  private withPeers: readonly number[] | null = null;

  constructor(readonly settlement: Settlement) {}

  /** Takes what was touched, and forgets what is otherwise by now. O(projects + packages that changed). */
  after(projects: readonly Project[]): this {
    const { catalog, touchedPackages } = this.settlement;
    if (!areRequiredAlike(this.projects, projects)) this.namesOfProjects = null;
    this.projectByFolder = null;
    this.projects = projects;
    for (const one of touchedPackages) {
      this.byOwner.delete(one);
      const end = catalog.firstRelease[one + 1]!;
      for (let r = catalog.firstRelease[one]!; r < end; r++) this.askers.delete(r);
      if (catalog.packagesWithPeers.has(one)) this.withPeers = null;
    }
    touchedPackages.clear();
    return this;
  }

  copiesWithPeers(): readonly number[] {
    const { catalog } = this.settlement;
    this.withPeers ??= [...catalog.packagesWithPeers].flatMap((one) =>
      this.settlement.copiesOf(one),
    );
    return this.withPeers;
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
    const { ofReleases, ofProjects } = this.demandsByOwner(target);
    this.namesOfProjects ??= new Set(this.projects.flatMap(projectsRequiredBy));
    const isProject = this.namesOfProjects.has(name);
    return (owner) => {
      if (owner >= 0) {
        const link = ofReleases.get(owner);
        return link === undefined ? null : { kind: 'release', link };
      }
      const own = ofProjects.get(owner);
      if (isProject || own === 'several') return this.projectProvider(~owner, name, target);
      return own === undefined ? { kind: 'none', project: ~owner } : { kind: 'release', link: own };
    };
  }

  /** What owners ask of a package; of a project that asks in several ways, or in vain, it has to be looked into which counts. */
  private demandsByOwner(target: number): DemandsByOwner {
    const known = this.byOwner.get(target);
    if (known !== undefined) return known;
    const ofReleases = new Map<number, Demand>();
    const ofProjects = new Map<number, Demand | 'several'>();
    for (const demand of target === NONE ? [] : this.settlement.demandsOn[target]!) {
      const { owner, answer } = demand;
      if (owner < 0)
        ofProjects.set(owner, ofProjects.has(owner) || answer === NONE ? 'several' : demand);
      else if (answer !== NONE)
        ofReleases.set(owner, ofReleases.has(owner) ? this.firstOfRelease(owner, target)! : demand);
    }
    const found = { ofReleases, ofProjects };
    this.byOwner.set(target, found);
    return found;
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
    this.projectByFolder ??= new Map(this.projects.map((project) => [project.folder, project]));
    const { version } = this.projectByFolder.get(folder)!;
    return { kind: 'project', version: version === null ? null : requireVersion(version) };
  }

  private firstOfRelease(release: number, target: number): Demand | undefined {
    const isMeant = (one: Demand | null): one is Demand =>
      one !== null && one.pool.package === target && one.answer !== NONE;
    return this.settlement.needDemands(release).find(isMeant);
  }
}

const projectsRequired = new WeakMap<Project, readonly string[]>();

/** Under which names a project requires others of the workspace; mostly under none. */
function projectsRequiredBy(project: Project): readonly string[] {
  const known = projectsRequired.get(project);
  if (known !== undefined) return known;
  const names = project.requirements
    .filter(({ meaning }) => meaning.kind === 'project')
    .map(({ name }) => name);
  projectsRequired.set(project, names);
  return names;
}

/** Does each project require others of the workspace under the same names as before? */
function areRequiredAlike(before: readonly Project[], after: readonly Project[]): boolean {
  return (
    before.length === after.length &&
    after.every((project, i) => {
      if (project === before[i]) return true;
      const [old, now] = [projectsRequiredBy(before[i]!), projectsRequiredBy(project)];
      return old.length === now.length && now.every((name, j) => name === old[j]);
    })
  );
}
