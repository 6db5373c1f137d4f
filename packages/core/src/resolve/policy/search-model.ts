import type { Requirement, Workspace } from '../../workspace/index.js';
import { demandKey, type DemandName } from '../choose/narrowing.js';
import type { Catalog } from '../model/catalog.js';
import { NONE } from '../model/demand.js';
import type { Held } from '../model/held-answers.js';
import { byKindAndName } from '../model/resolution.js';
import type { Pool, UsableReleases } from '../model/usable-releases.js';
import type { BoundPackages } from './bound-packages.js';
import { ClauseSolver, isFalse, isTrue, type Literal } from './clause-solver.js';

/** One demand on a package, as the search sees it. */
export interface Entry {
  readonly name: DemandName;
  readonly pool: Pool;
  /** Variable of what makes the demand: a release that is a copy, or a project's requirements. */
  readonly owner: number;
  readonly held: number;
  /** Variable that says whether an optional demand is met; null: it must be. */
  readonly soft: number | null;
  /** Variables for which release answers it; null: that did not have to be told apart. */
  answers: ReadonlyMap<number, number> | null;
}

/** Requirements of projects that admit the same releases; under strict peers one requirement alone. */
export interface RootDemand {
  readonly pool: Pool;
  readonly requirements: readonly Requirement[];
}

/** Requirements that cannot all be met. */
export type Clash = readonly RootDemand[];

/** One demand with the release that answered it. */
export interface GivenAnswer {
  readonly name: DemandName;
  readonly release: number;
}

/**
 * What must hold of copies, as clauses: every demand of what is there is met, and of what shares a slot at most one is
 * there. It grows as supplies, and what they bring in, are added.
 */
export class SearchModel {
  readonly solver = new ClauseSolver();
  /** By release: its variable, or NONE. */
  readonly variableOf: Int32Array;
  /** By package. */
  readonly entriesOn: (Entry[] | undefined)[] = [];
  readonly optional: Entry[] = [];
  readonly toldApart: Entry[] = [];
  readonly roots: { readonly demand: RootDemand; readonly variable: number }[] = [];
  /** By package: the variable that puts its policy on copies in force; empty: all are. */
  readonly guards = new Map<number, number>();
  /** By number of the need. */
  private readonly ofNeed: (Entry | undefined)[] = [];
  private readonly ofProject = new Map<string, Entry>();
  private readonly rootByPool = new Map<
    Pool,
    { readonly variable: number; readonly requirements: Requirement[] }
  >();
  /** Releases whose needs have not been taken in yet. */
  private readonly fresh: number[] = [];

  /**
   * O(releases and needs that the requirements may reach).
   * @param isGuarded whether policies on copies can be left out of a search
   */
  constructor(
    private readonly usable: UsableReleases,
    private readonly bound: BoundPackages,
    private readonly held: Held,
    private readonly workspace: Workspace,
    private readonly isGuarded: boolean,
  ) {
    this.variableOf = new Int32Array(this.catalog.releases.length).fill(NONE);
    this.addRoots();
    this.takeInFresh();
  }

  get catalog(): Catalog {
    return this.usable.catalog;
  }

  /** A peer to be supplied to a project, if that can be. @param pool of a package that is relevant */
  addSupply(
    name: Extract<DemandName, { kind: 'supply' }>,
    pool: Pool,
    texts: readonly string[],
  ): void {
    const owner = this.certain();
    const { folder } = this.workspace.projects[name.project]!;
    const before = this.held.ofSupply(folder, name.name, texts);
    const held = pool.releases.includes(before) ? before : NONE;
    this.addEntry({ name, pool, owner, held, isSoft: true });
    this.takeInFresh();
  }

  /** Undefined where the demand bears on no policy, or is not known yet. */
  entryOf(name: DemandName): Entry | undefined {
    return name.kind === 'need' ? this.ofNeed[name.need] : this.ofProject.get(demandKey(name));
  }

  /** These answers must not all be given together, unless an optional demand is met. */
  forbid(given: readonly GivenAnswer[], unless: DemandName | null): void {
    const literals = new Set(given.map((one) => isFalse(this.answerVariable(one))));
    const soft = unless === null ? undefined : this.entryOf(unless)?.soft;
    this.solver.addClause(soft == null ? [...literals] : [...literals, isTrue(soft)]);
  }

  /** Can the variable still be either? */
  isOpen(variable: number): boolean {
    return !this.solver.holds(isTrue(variable)) && !this.solver.fails(isTrue(variable));
  }

  /** Must the demand be met, as things stand? */
  isActive({ owner, soft }: Entry): boolean {
    return this.solver.holds(isTrue(owner)) && (soft === null || this.solver.holds(isTrue(soft)));
  }

  /** Is the release a copy, as things stand? */
  isCopy(release: number): boolean {
    return this.solver.holds(isTrue(this.variableOf[release]!));
  }

  /** In an order that does not depend on that of the lines in a manifest. */
  private addRoots(): void {
    this.workspace.projects.forEach(({ folder, requirements }, project) => {
      const sorted = requirements
        .map((requirement, index) => ({ requirement, index }))
        .sort((a, b) => byKindAndName(a.requirement, b.requirement));
      for (const { requirement, index } of sorted) {
        const { kind, name, meaning, targets } = requirement;
        if (meaning.kind !== 'range') continue;
        const target = this.catalog.numberOf.get(name)!;
        if (this.bound.isRelevant[target] === 0) continue;
        const isSoft = kind === 'optional';
        const pool = this.usable.poolFor(
          target,
          meaning.text,
          targets,
          isSoft,
          this.usable.isLeftOut(folder, name),
        );
        const held = this.held.ofProject(folder, kind, name, meaning.text, pool);
        const owner = isSoft ? this.certain() : this.rootOf(pool, requirement);
        const demand: DemandName = { kind: 'requirement', project, index };
        this.addEntry({ name: demand, pool, owner, held, isSoft });
      }
    });
  }

  private certain(): number {
    const variable = this.solver.newVariable();
    this.solver.addClause([isTrue(variable)]);
    return variable;
  }

  /**
   * The variable for the requirements that admit the same as this one. Which copy provides a peer depends on the
   * project, so under strict peers each requirement has a variable of its own.
   */
  private rootOf(pool: Pool, requirement: Requirement): number {
    const known = this.rootByPool.get(pool);
    if (known !== undefined && this.workspace.policy.peers === 'report') {
      known.requirements.push(requirement);
      return known.variable;
    }
    const variable = this.solver.newVariable();
    const requirements = [requirement];
    this.rootByPool.set(pool, { variable, requirements });
    this.roots.push({ demand: { pool, requirements }, variable });
    return variable;
  }

  private addEntry(entry: Omit<Entry, 'soft' | 'answers'> & { readonly isSoft: boolean }): void {
    const { name, pool, owner, held, isSoft } = entry;
    const variables = pool.releases.map((release) => this.release(release));
    const soft = isSoft ? this.solver.newVariable() : null;
    const made: Entry = { name, pool, owner, held, soft, answers: null };
    this.solver.addClause([...this.conditionsOf(made), ...variables.map(isTrue)]);
    (this.entriesOn[pool.package] ??= []).push(made);
    if (name.kind === 'need') this.ofNeed[name.need] = made;
    else this.ofProject.set(demandKey(name), made);
    if (soft !== null) this.optional.push(made);
  }

  /** What makes the demand idle. */
  private conditionsOf({ owner, soft }: Entry): readonly Literal[] {
    return soft === null ? [isFalse(owner)] : [isFalse(soft), isFalse(owner)];
  }

  /** The variable of a release that may become a copy. */
  private release(release: number): number {
    if (this.variableOf[release] === NONE) {
      this.variableOf[release] = this.solver.newVariable();
      this.fresh.push(release);
    }
    return this.variableOf[release]!;
  }

  /** Takes in the needs of all releases that were met, at any depth, and what may not stand together. */
  private takeInFresh(): void {
    const { catalog } = this;
    const touched = new Set<number>();
    for (let next = this.fresh.pop(); next !== undefined; next = this.fresh.pop()) {
      touched.add(catalog.packageOf[next]!);
      const first = catalog.firstNeed[next]!;
      const owner = this.variableOf[next]!;
      for (const [i, need] of catalog.releases[next]!.needs.entries()) {
        const pool = this.usable.poolOf(first + i);
        if (pool === null || this.bound.isRelevant[pool.package] === 0) continue;
        const name: DemandName = { kind: 'need', need: first + i };
        const held = this.held.ofNeed(next, need, pool);
        this.addEntry({ name, pool, owner, held, isSoft: need.kind === 'optional' });
      }
    }
    for (const packageNumber of touched) this.separate(packageNumber);
  }

  private separate(packageNumber: number): void {
    const { firstRelease } = this.catalog;
    const slots = new Map<string, number[]>();
    for (let r = firstRelease[packageNumber]!; r < firstRelease[packageNumber + 1]!; r++) {
      const slot = this.bound.slotOf(r);
      if (slot === null || this.variableOf[r] === NONE) continue;
      slots.set(slot, [...(slots.get(slot) ?? []), this.variableOf[r]!]);
    }
    for (const variables of slots.values())
      this.solver.addAtMostOne(variables, this.guardOf(packageNumber));
  }

  private guardOf(packageNumber: number): number | null {
    if (!this.isGuarded) return null;
    const known = this.guards.get(packageNumber);
    if (known !== undefined) return known;
    const guard = this.solver.newVariable();
    this.guards.set(packageNumber, guard);
    return guard;
  }

  private answerVariable({ name, release }: GivenAnswer): number {
    const entry = this.entryOf(name)!;
    entry.answers ??= this.tellApart(entry);
    return entry.answers.get(release)!;
  }

  private tellApart(entry: Entry): ReadonlyMap<number, number> {
    const answers = new Map<number, number>();
    for (const one of entry.pool.releases) {
      const variable = this.solver.newVariable();
      answers.set(one, variable);
      this.solver.addClause([isFalse(variable), isTrue(this.variableOf[one]!)]);
    }
    this.solver.addAtMostOne([...answers.values()]);
    this.toldApart.push(entry);
    const all = [...answers.values()].map(isTrue);
    this.solver.addClause([...this.conditionsOf(entry), ...all]);
    return answers;
  }
}
