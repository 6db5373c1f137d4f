import type { Requirement, Workspace } from '../../workspace/index.js';
import type { BoundPackages } from './bound-packages.js';
import type { Catalog } from '../model/catalog.js';
import { compareByPreference, fewestReleases } from '../choose/choose-copies.js';
import { ClauseSolver, isFalse, isTrue, type Literal } from './clause-solver.js';
import { NONE } from '../model/demand.js';
import type { Held } from '../model/held-answers.js';
import { minimumHittingSet } from './minimum-hitting-set.js';
import { demandKey, type DemandName, type Narrowing } from '../choose/narrowing.js';
import { byKindAndName } from '../model/resolution.js';
import type { Pool, UsableReleases } from '../model/usable-releases.js';

/** One demand on a package, as the search sees it. */
interface Entry {
  readonly name: DemandName;
  readonly pool: Pool;
  /** Variable of what makes the demand: a release that is a copy, or a project's requirements. */
  readonly owner: number;
  readonly held: number;
  /** Variable that says whether an optional demand is met; null: it must be. */
  readonly soft: number | null;
  /** Variables for which release answers it, where that had to be told apart. */
  readonly answers: Map<number, number>;
}

/** Requirements of projects that admit the same releases; under strict peers one requirement alone. */
export interface RootDemand {
  readonly pool: Pool;
  readonly requirements: readonly Requirement[];
}

export type SearchOutcome =
  | { readonly kind: 'found'; readonly narrowing: Narrowing }
  /** These requirements cannot all be met; without any one of them the others can. */
  | { readonly kind: 'clash'; readonly roots: Clash };

/** Requirements that cannot all be met. */
export type Clash = readonly RootDemand[];

/** Beyond, demands are given up one for each set that clashes. */
const MOST_CLASHES = 40;

/** One demand with the release that answered it. */
export interface GivenAnswer {
  readonly name: DemandName;
  readonly release: number;
}

/**
 * Looks for copies that meet all demands while no more of them stand together than the policy allows.
 * Packages are decided owners first, each as it would be without the policy: what the lockfile had,
 * fewest copies, newest. Where that runs into a conflict, what is learned from it moves the decision that
 * led there. Then, with these decisions kept, as many optional demands are met as can be met together: first
 * those of what is there, then those of what they bring in.
 */
export class PolicySearch {
  private readonly solver = new ClauseSolver();
  private readonly variableOf: Int32Array;
  private readonly entriesOn: (Entry[] | undefined)[] = [];
  private readonly entries = new Map<string, Entry>();
  private readonly roots: { readonly demand: RootDemand; readonly variable: number }[] = [];
  /** Relevant packages, owners before what they need. */
  private readonly order: number[] = [];
  private readonly rootByPool = new Map<
    Pool,
    { readonly variable: number; readonly requirements: Requirement[] }
  >();
  /** Releases whose needs have not been taken in yet. */
  private readonly fresh: number[] = [];
  /** By level: where in the order the decision was made. */
  private cursors: number[] = [];

  /** O(releases and needs that the requirements may reach). */
  constructor(
    private readonly usable: UsableReleases,
    private readonly bound: BoundPackages,
    private readonly held: Held,
    private readonly workspace: Workspace,
    private readonly watch: () => void,
  ) {
    const { catalog } = usable;
    this.variableOf = new Int32Array(catalog.releases.length).fill(NONE);
    const { starts, targets } = catalog.circles.members;
    for (let component = starts.length - 2; component >= 0; component--) {
      for (const member of targets.subarray(starts[component], starts[component + 1])) {
        if (bound.isRelevant[member] === 1) this.order.push(member);
      }
    }
    this.addRoots();
    this.takeInFresh();
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

  hasSupply(name: DemandName): boolean {
    return this.entries.has(demandKey(name));
  }

  /** These answers must not all be given together, unless an optional demand is met. */
  forbid(given: readonly GivenAnswer[], unless: DemandName | null): void {
    const literals = new Set(given.map((one) => isFalse(this.answerVariable(one))));
    const soft = unless === null ? undefined : this.entries.get(demandKey(unless))?.soft;
    this.solver.addClause(soft == null ? [...literals] : [...literals, isTrue(soft)]);
  }

  search(): SearchOutcome {
    const roots = this.clashWithout(new Set());
    if (roots !== null) return { kind: 'clash', roots };
    this.keepOptional();
    return { kind: 'found', narrowing: this.narrowing() };
  }

  /**
   * The fewest requirements that still clash when these are left out: each of them has to be there for it. Null: the
   * others can be met.
   */
  clashWithout(removed: ReadonlySet<Requirement>): Clash | null {
    const left = this.roots.filter(
      ({ demand }) => !demand.requirements.some((one) => removed.has(one)),
    );
    const outcome = this.solve(left.map(({ variable }) => isTrue(variable)));
    if (outcome.kind === 'found') return null;
    let core = outcome.assumptions;
    for (const literal of outcome.assumptions) {
      if (!core.includes(literal)) continue;
      const without = this.solve(core.filter((one) => one !== literal));
      if (without.kind === 'clash') core = without.assumptions;
    }
    return left
      .filter(({ variable }) => core.includes(isTrue(variable)))
      .map(({ demand }) => demand);
  }

  private solve(assumptions: readonly Literal[]) {
    this.cursors = [];
    return this.solver.solve(assumptions, () => this.decide(), this.watch);
  }

  /**
   * Meets as many optional demands as can be met beside what has been decided: those that the lockfile had
   * answered, then other requirements, then supplies; level by level, as what they bring in has optional demands too.
   */
  private keepOptional(): void {
    const all = [...this.entries.values()].filter(
      ({ soft, pool }) => soft !== null && pool.releases.length > 0,
    );
    const choices: Literal[] = this.roots.map(({ variable }) => isTrue(variable));
    const decided = new Set<Entry>();
    for (;;) {
      const level = all.filter((one) => !decided.has(one) && this.solver.holds(isTrue(one.owner)));
      if (level.length === 0) return;
      const isSupply = ({ name }: Entry): boolean => name.kind === 'supply';
      const isNew = ({ held }: Entry): boolean => held === NONE;
      for (const group of [
        level.filter((one) => !isNew(one)),
        level.filter((one) => isNew(one) && !isSupply(one)),
        level.filter((one) => isNew(one) && isSupply(one)),
      ]) {
        if (group.length === 0) continue;
        const given = this.largestPart(group, [...choices, ...this.decisions()]);
        for (const [i, one] of group.entries())
          choices.push(given.has(i) ? isFalse(one.soft!) : isTrue(one.soft!));
      }
      for (const one of level) decided.add(one);
    }
  }

  /**
   * The fewest of these demands that have to be given up, and the search left where the others are met. Sets of
   * demands that cannot all be met are collected until giving up a smallest set that hits each of them is enough.
   * Source: J. Davies and F. Bacchus, Solving MAXSAT by solving a sequence of simpler SAT instances, CP 2011.
   */
  private largestPart(group: readonly Entry[], kept: readonly Literal[]): ReadonlySet<number> {
    const clashes: number[][] = [];
    const isMet = group.map(({ soft }) => isTrue(soft!));
    for (;;) {
      const given = new Set(
        clashes.length <= MOST_CLASHES
          ? minimumHittingSet(clashes)
          : clashes.map((one) => one.at(-1)!),
      );
      const outcome = this.solve([...kept, ...isMet.filter((_, i) => !given.has(i))]);
      if (outcome.kind === 'found') return given;
      clashes.push(isMet.flatMap((one, i) => (outcome.assumptions.includes(one) ? [i] : [])));
    }
  }

  /** What stands as decided or follows from it: copies, and which of them answers where that is told apart. */
  private decisions(): readonly Literal[] {
    const all: number[] = [];
    for (const variable of this.variableOf) if (variable !== NONE) all.push(variable);
    for (const { answers } of this.entries.values()) all.push(...answers.values());
    return all.map(isTrue).filter((literal) => this.solver.holds(literal));
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
        const pool = this.usable.poolFor(target, meaning.text, targets, isSoft);
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
   * The variable for the requirements that admit the same as this one. What provides a peer hangs on the project, so
   * under strict peers each stands for itself.
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
    const made: Entry = { name, pool, owner, held, soft, answers: new Map() };
    this.solver.addClause([...this.conditionsOf(made), ...variables.map(isTrue)]);
    (this.entriesOn[pool.package] ??= []).push(made);
    this.entries.set(demandKey(name), made);
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
    for (const variables of slots.values()) this.solver.addAtMostOne(variables);
  }

  private answerVariable({ name, release }: GivenAnswer): number {
    const entry = this.entries.get(demandKey(name))!;
    if (entry.answers.size === 0) {
      for (const one of entry.pool.releases) {
        const variable = this.solver.newVariable();
        entry.answers.set(one, variable);
        this.solver.addClause([isFalse(variable), isTrue(this.variableOf[one]!)]);
      }
      this.solver.addAtMostOne([...entry.answers.values()]);
      const all = [...entry.answers.values()].map(isTrue);
      this.solver.addClause([...this.conditionsOf(entry), ...all]);
    }
    return entry.answers.get(release)!;
  }

  private decide(): Literal | null {
    const { level } = this.solver;
    const turn = (literal: Literal, cursor: number): Literal => {
      this.cursors[level + 1] = cursor;
      return literal;
    };
    for (let cursor = this.cursors[level] ?? 0; cursor < this.order.length; cursor++) {
      const literal = this.decideOn(this.order[cursor]!);
      if (literal !== null) return turn(literal, cursor);
    }
    // In a circle a package may get demands after its turn.
    for (const [cursor, packageNumber] of this.order.entries()) {
      const literal = this.decideOn(packageNumber) ?? this.decideAnswer(packageNumber);
      if (literal !== null) return turn(literal, cursor);
    }
    return null;
  }

  private isOpen(variable: number): boolean {
    return !this.solver.holds(isTrue(variable)) && !this.solver.fails(isTrue(variable));
  }

  private isActive({ owner, soft }: Entry): boolean {
    return this.solver.holds(isTrue(owner)) && (soft === null || this.solver.holds(isTrue(soft)));
  }

  private isCopy(release: number): boolean {
    return this.solver.holds(isTrue(this.variableOf[release]!));
  }

  /** The next copy that demands on a package ask for, or null. */
  private decideOn(packageNumber: number): Literal | null {
    const open = (this.entriesOn[packageNumber] ?? []).filter(
      (entry) =>
        this.isActive(entry) && !entry.pool.releases.some((release) => this.isCopy(release)),
    );
    if (open.length === 0) return null;
    const isPossible = (release: number): boolean => this.isOpen(this.variableOf[release]!);
    const held = this.mostHeld(open, isPossible);
    if (held !== null) return isTrue(this.variableOf[held]!);
    const pools = [...new Set(open.map(({ pool }) => pool))].map((pool) => ({
      ...pool,
      releases: pool.releases.filter(isPossible),
    }));
    const [first] = fewestReleases(this.catalog, pools, (release) => this.held.isHeld(release));
    return isTrue(this.variableOf[first!]!);
  }

  private get catalog(): Catalog {
    return this.usable.catalog;
  }

  /** The release that most of these demands had before; of equals the one that is preferred. */
  private mostHeld(
    entries: readonly Entry[],
    isPossible: (release: number) => boolean,
  ): number | null {
    const counts = new Map<number, number>();
    for (const { held } of entries)
      if (held !== NONE && isPossible(held)) counts.set(held, (counts.get(held) ?? 0) + 1);
    const [best] = [...counts].sort(
      ([a, x], [b, y]) => y - x || compareByPreference(this.catalog, a, b),
    );
    return best?.[0] ?? null;
  }

  private decideAnswer(packageNumber: number): Literal | null {
    for (const entry of this.entriesOn[packageNumber] ?? []) {
      if (entry.answers.size === 0 || !this.isActive(entry)) continue;
      const all = [...entry.answers];
      if (all.some(([, variable]) => this.solver.holds(isTrue(variable)))) continue;
      const open = all.filter(([, variable]) => this.isOpen(variable)).map(([one]) => one);
      const copies = open.filter((release) => this.isCopy(release));
      const best = this.bestAnswer(entry, copies.length > 0 ? copies : open);
      return isTrue(entry.answers.get(best)!);
    }
    return null;
  }

  private bestAnswer({ held }: Entry, releases: readonly number[]): number {
    if (releases.includes(held)) return held;
    return [...releases].sort((a, b) => compareByPreference(this.catalog, a, b))[0]!;
  }

  /** The answers that were found, for a settlement to take. */
  private narrowing(): Narrowing {
    const answers = new Map<string, Pool>();
    for (const [key, entry] of this.entries) {
      if (!this.solver.holds(isTrue(entry.owner))) continue;
      // What nothing could answer is not kept out by the policy.
      if (entry.pool.releases.length === 0) continue;
      const told = [...entry.answers].filter(([, one]) => this.solver.holds(isTrue(one)));
      const possible =
        told.length > 0
          ? told.map(([release]) => release)
          : entry.pool.releases.filter((release) => this.isCopy(release));
      const isMet = this.isActive(entry) && possible.length > 0;
      const releases = isMet ? [this.bestAnswer(entry, possible)] : [];
      answers.set(key, { ...entry.pool, releases, isNarrowed: true });
    }
    return { narrow: (name, pool) => answers.get(demandKey(name)) ?? pool };
  }
}
