import type { Project, Requirement } from '../../workspace/index.js';
import type { Catalog } from '../model/catalog.js';
import { chooseCopies } from './choose-copies.js';
import { CycleAnswers } from './cycle-answers.js';
import { NONE, ownerOfProject, type Demand } from '../model/demand.js';
import type { Held } from '../model/held-answers.js';
import { AS_IT_IS, type Narrowing } from './narrowing.js';
import { PackageQueue } from './package-queue.js';
import type { UsableReleases } from '../model/usable-releases.js';

/** What a project is given beside its own requirements, because copies below it ask for a peer. */
export interface Supply {
  readonly name: string;
  /** The ranges that are asked for, sorted. */
  readonly texts: readonly string[];
  readonly demand: Demand;
}

/**
 * Is told about long work, now and then: how many packages wait for their answer; more may follow. Whatever
 * it throws stops the work and reaches the caller.
 */
export type Watch = (left: number) => void;

interface ProjectState {
  readonly project: Project;
  /** The demand of each requirement, null where another project answers it. */
  readonly demands: readonly (Demand | null)[];
}

/**
 * The answers to all demands under the policy `any`, kept up to date while requirements change.
 *
 * Packages are answered in an order in which each comes after all that may need it, so its demands are
 * complete when it is its turn, and the answer to a package is a function of those demands alone. So a
 * change only has to walk through the packages whose demands it changes, and ends where a fresh start
 * would have ended.
 */
export class Settlement {
  readonly catalog: Catalog;
  /** All demands on each package. */
  readonly demandsOn: Demand[][];
  /** Releases whose copies changed, or whose needs are answered otherwise, since they were last taken. */
  readonly touchedReleases = new Set<number>();
  readonly touchedProjects = new Set<number>();
  /** Projects whose supplies were taken or given. */
  readonly touchedSupplies = new Set<number>();
  /** Packages of which any demand came, went or got another answer, since they were last taken. */
  readonly touchedPackages = new Set<number>();
  private readonly states: ProjectState[] = [];
  private readonly supplies: Map<string, Supply>[] = [];
  private doAnswersStay = false;
  private readonly needsOf = new Map<number, readonly (Demand | null)[]>();
  private readonly queue: PackageQueue;

  constructor(
    readonly usable: UsableReleases,
    private readonly held: Held,
    private readonly narrowing: Narrowing = AS_IT_IS,
  ) {
    this.catalog = usable.catalog;
    this.demandsOn = this.catalog.names.map(() => []);
    this.queue = new PackageQueue(this.catalog.components.members.starts.length - 1);
  }

  /** The releases that are copies. */
  copies(): IterableIterator<number> {
    return this.needsOf.keys();
  }

  isCopy(release: number): boolean {
    return this.needsOf.has(release);
  }

  copiesOf(packageNumber: number): readonly number[] {
    const { firstRelease } = this.catalog;
    const copies: number[] = [];
    for (let r = firstRelease[packageNumber]!; r < firstRelease[packageNumber + 1]!; r++)
      if (this.needsOf.has(r)) copies.push(r);
    return copies;
  }

  /** The demand of each need of a copy, in the order of its release; null: for none of the targets. */
  needDemands(release: number): readonly (Demand | null)[] {
    return this.needsOf.get(release) ?? [];
  }

  projectDemands(index: number): readonly (Demand | null)[] {
    return this.states[index]?.demands ?? [];
  }

  suppliesOf(index: number): readonly Supply[] {
    return [...(this.supplies[index]?.values() ?? [])];
  }

  /** What a project is supplied with under this name, or null. */
  supplyOf(index: number, name: string): Supply | null {
    return this.supplies[index]?.get(name) ?? null;
  }

  /** The demand of what a project is supplied with under this name, or null. */
  supplyDemand(index: number, name: string): Demand | null {
    return this.supplyOf(index, name)?.demand ?? null;
  }

  isSupply(demand: Demand): boolean {
    if (demand.owner >= 0) return false;
    return this.supplyDemand(~demand.owner, this.catalog.names[demand.pool.package]!) === demand;
  }

  /** Takes the requirements of all projects, each at its index. */
  setProjects(projects: readonly Project[]): this {
    projects.forEach((project, index) => this.setProject(index, project));
    return this;
  }

  /** Takes the requirements of a project. Requirements that ask for the same as before keep their demands. */
  private setProject(index: number, project: Project): void {
    const old = this.states[index];
    if (old?.project === project) return;
    this.touchedProjects.add(index);
    const known = new Map<string, Demand>();
    old?.project.requirements.forEach((requirement, i) => {
      const demand = old.demands[i];
      if (demand) known.set(keyOf(requirement), demand);
    });
    const demands = project.requirements.map((requirement, i): Demand | null => {
      const demand = this.demandOf(index, i, project.folder, requirement);
      if (demand === null) return null;
      const before = known.get(keyOf(requirement));
      if (before?.pool === demand.pool && before.held === demand.held) {
        known.delete(keyOf(requirement));
        return before;
      }
      this.add(demand);
      return demand;
    });
    for (const demand of known.values()) this.remove(demand);
    this.states[index] = { project, demands };
  }

  private demandOf(
    project: number,
    index: number,
    folder: string,
    requirement: Requirement,
  ): Demand | null {
    const { kind, name, meaning, targets } = requirement;
    if (meaning.kind !== 'range') return null;
    const target = this.catalog.numberOf.get(name)!;
    const pool = this.narrowing.narrow(
      { kind: 'requirement', project, index },
      this.usable.poolFor(
        target,
        meaning.text,
        targets,
        kind === 'optional',
        this.usable.isLeftOut(folder, name),
      ),
    );
    const held = this.held.ofProject(folder, kind, name, meaning.text, pool);
    return { pool, owner: ownerOfProject(project), held, answer: NONE, place: NONE };
  }

  /**
   * Supplies a project with a peer; what was supplied under the same name goes.
   * @param texts the ranges asked for, sorted; those that cannot be met with the others are not
   */
  supply(index: number, name: string, texts: readonly string[]): void {
    const target = this.catalog.numberOf.get(name)!;
    const { folder } = this.states[index]!.project;
    const before = this.supplyDemand(index, name)?.answer ?? NONE;
    this.withdraw(index, name);
    const staying =
      this.doAnswersStay && before !== NONE ? before : this.held.ofSupply(folder, name, texts);
    const within = this.usable.poolWithin(target, texts, staying);
    const pool = this.narrowing.narrow({ kind: 'supply', project: index, name, texts }, within);
    const held = pool.releases.includes(staying) ? staying : NONE;
    const demand = { pool, owner: ownerOfProject(index), held, answer: NONE, place: NONE };
    this.add(demand);
    (this.supplies[index] ??= new Map()).set(name, { name, texts, demand });
    // A demand without an answer is told too, and its answer does not change.
    this.touchedSupplies.add(index);
  }

  withdraw(index: number, name: string): void {
    const supplied = this.supplies[index]?.get(name);
    if (supplied === undefined) return;
    this.remove(supplied.demand);
    this.supplies[index]!.delete(name);
    this.touchedSupplies.add(index);
  }

  /** Takes back every supply but those that are to stay. */
  withdrawAll(stays: (index: number, supply: Supply) => boolean = () => false): void {
    this.supplies.forEach((supplied, index) => {
      for (const supply of [...supplied.values()])
        if (!stays(index, supply)) this.withdraw(index, supply.name);
    });
  }

  /** Answers every package whose demands changed. */
  settle(watch: Watch = () => undefined): void {
    const { components, needsItself } = this.catalog;
    const { starts, targets } = components.members;
    for (let count = 0; ; count++) {
      if (count % 512 === 0) watch(this.queue.size);
      const turn = this.queue.next();
      if (turn === null) return;
      const component = starts.length - 2 - turn;
      const first = targets[starts[component]!]!;
      const isCycle = starts[component + 1]! - starts[component]! > 1 || needsItself[first] === 1;
      if (isCycle)
        this.answerCycle([...targets.subarray(starts[component]!, starts[component + 1]!)]);
      else this.answerPackage(first);
    }
  }

  /** Makes a demand hold on to another release of its pool, or to none; the next settling follows it. */
  holdAnswer(demand: Demand, release: number): void {
    demand.held = release;
    this.queue.add(this.turnOf(demand.pool.package));
  }

  /**
   * The lockfile before now holds another version of a package; every demand on it is asked for anew, and what was
   * supplied of it goes.
   */
  rehold(packageNumber: number): void {
    const name = this.catalog.names[packageNumber]!;
    // In a cycle it may have been a copy for a while, and led to an answer without it.
    this.queue.add(this.turnOf(packageNumber));
    for (const index of this.supplies.keys()) this.withdraw(index, name);
    for (const demand of this.demandsOn[packageNumber]!) {
      const held = this.heldFor(demand);
      if (held !== demand.held) this.holdAnswer(demand, held);
    }
  }

  /** O(needs of the owner). */
  private heldFor(demand: Demand): number {
    const { owner, pool } = demand;
    if (owner >= 0) {
      const index = this.needsOf.get(owner)!.indexOf(demand);
      return this.held.ofNeed(owner, this.catalog.releases[owner]!.needs[index]!, pool);
    }
    const { project, demands } = this.states[~owner]!;
    const { kind, name, meaning } = project.requirements[demands.indexOf(demand)]!;
    return meaning.kind === 'range'
      ? this.held.ofProject(project.folder, kind, name, meaning.text, pool)
      : NONE;
  }

  /** From now on every answered demand keeps its answer. */
  keepAnswers(): void {
    this.doAnswersStay = true;
    for (const demands of this.demandsOn)
      for (const demand of demands) if (demand.answer !== NONE) demand.held = demand.answer;
  }

  private readonly touch = (demand: Demand): void => {
    const { owner } = demand;
    this.touchedPackages.add(demand.pool.package);
    if (owner >= 0) this.touchedReleases.add(owner);
    else if (this.isSupply(demand)) this.touchedSupplies.add(~owner);
    else this.touchedProjects.add(~owner);
  };

  private readonly isHeld = (release: number): boolean => this.held.isHeld(release);

  private choose(demands: readonly Demand[]): ReadonlySet<number> {
    return chooseCopies(this.catalog, demands, this.isHeld, this.touch);
  }

  private answerPackage(packageNumber: number): void {
    const chosen = this.choose(this.demandsOn[packageNumber]!);
    for (const release of this.copiesOf(packageNumber))
      if (!chosen.has(release)) this.deactivate(release);
    for (const release of chosen)
      if (!this.needsOf.has(release)) this.activate(release, this.needsFor(release));
  }

  private answerCycle(members: readonly number[]): void {
    const known = new Map<number, readonly (Demand | null)[]>();
    for (const release of members.flatMap((member) => this.copiesOf(member))) {
      known.set(release, this.needsOf.get(release)!);
      this.deactivate(release);
    }
    const cycle = new CycleAnswers(
      this.catalog,
      members,
      (member) => this.demandsOn[member]!,
      (release) => known.get(release) ?? this.needsFor(release),
      (demands) => this.choose(demands),
    );
    for (const [release, demands] of cycle.answer()) this.activate(release, demands);
    // Activating asked for this turn again, but the demands inside are answered.
    this.queue.skip(this.turnOf(members[0]!));
  }

  private needsFor(release: number): readonly (Demand | null)[] {
    const first = this.catalog.firstNeed[release]!;
    return this.catalog.releases[release]!.needs.map((need, i): Demand | null => {
      const all = this.usable.poolOf(first + i);
      if (all === null) return null;
      const pool = this.narrowing.narrow({ kind: 'need', need: first + i }, all);
      const held = this.held.ofNeed(release, need, pool);
      return { pool, owner: release, held, answer: NONE, place: NONE };
    });
  }

  private activate(release: number, demands: readonly (Demand | null)[]): void {
    this.needsOf.set(release, demands);
    this.touchedReleases.add(release);
    for (const demand of demands) if (demand !== null) this.add(demand);
  }

  private deactivate(release: number): void {
    for (const demand of this.needsOf.get(release)!) if (demand !== null) this.remove(demand);
    this.needsOf.delete(release);
    this.touchedReleases.add(release);
  }

  private add(demand: Demand): void {
    const demands = this.demandsOn[demand.pool.package]!;
    demand.place = demands.length;
    demands.push(demand);
    this.touchedPackages.add(demand.pool.package);
    this.queue.add(this.turnOf(demand.pool.package));
  }

  private remove(demand: Demand): void {
    const demands = this.demandsOn[demand.pool.package]!;
    const last = demands.pop()!;
    if (last !== demand) {
      demands[demand.place] = last;
      last.place = demand.place;
    }
    this.touchedPackages.add(demand.pool.package);
    this.queue.add(this.turnOf(demand.pool.package));
  }

  /** Owners before what they need: the components of high number first. */
  private turnOf(packageNumber: number): number {
    const { of, members } = this.catalog.components;
    return members.starts.length - 2 - of[packageNumber]!;
  }
}

function keyOf({ kind, name }: Requirement): string {
  return `${kind} ${name}`;
}
