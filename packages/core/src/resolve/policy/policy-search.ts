import { compareByPreference, fewestReleases } from '../choose/choose-copies.js';
import type { Narrowing } from '../choose/narrowing.js';
import { NONE } from '../model/demand.js';
import type { Held } from '../model/held-answers.js';
import type { BoundPackages } from './bound-packages.js';
import { isFalse, isTrue, type Literal } from './clause-solver.js';
import { minimumHittingSet } from './minimum-hitting-set.js';
import type { Entry, SearchModel } from './search-model.js';

export type SearchOutcome =
  | { readonly kind: 'found'; readonly narrowing: Narrowing }
  /** These assumptions cannot all hold. */
  | { readonly kind: 'clash'; readonly assumptions: readonly Literal[] };

/** Beyond, demands are given up one for each set that clashes. */
const MOST_CLASHES = 40;

/**
 * Looks for copies that meet all demands while no more of them stand together than the policy allows.
 * Packages are decided owners first, each as it would be without the policy: what the lockfile had,
 * fewest copies, newest. Where that runs into a conflict, what is learned from it moves the decision that
 * led there. Then, with these decisions kept, as many optional demands are met as can be met together: first
 * requirements of what is there, then those of what they bring in, then supplies.
 */
export class PolicySearch {
  /** Relevant packages, owners before what they need. */
  private readonly order: number[] = [];
  /** By level: where in the order the decision was made, round after round. */
  private cursors: number[] = [];

  constructor(
    private readonly model: SearchModel,
    bound: BoundPackages,
    private readonly held: Held,
    private readonly watch: () => void,
  ) {
    const { starts, targets } = model.catalog.components.members;
    for (let component = starts.length - 2; component >= 0; component--) {
      for (const member of targets.subarray(starts[component], starts[component + 1])) {
        if (bound.isRelevant[member] === 1) this.order.push(member);
      }
    }
  }

  /**
   * @param assumptions what is to hold beside the clauses of the model: requirements, and policies that can be left out
   * @param idle supplies that nothing asks for: they need not be met
   */
  search(assumptions: readonly Literal[], idle: ReadonlySet<Entry>): SearchOutcome {
    const outcome = this.solve(assumptions);
    if (outcome.kind === 'clash') return outcome;
    this.keepOptional(assumptions, idle);
    return { kind: 'found', narrowing: this.narrowing() };
  }

  /** Assumptions none of which can be left out while the others still clash; null: all of them can hold. */
  smallestClash(assumptions: readonly Literal[]): readonly Literal[] | null {
    const outcome = this.solve(assumptions);
    if (outcome.kind === 'found') return null;
    let core = outcome.assumptions;
    for (const literal of outcome.assumptions) {
      if (!core.includes(literal)) continue;
      const without = this.solve(core.filter((one) => one !== literal));
      if (without.kind === 'clash') core = without.assumptions;
    }
    return core;
  }

  private solve(assumptions: readonly Literal[]) {
    this.cursors = [];
    return this.model.solver.solve(assumptions, () => this.decide(), this.watch);
  }

  /**
   * Meets as many optional demands as can be met beside what has been decided, level by level, as what they bring in
   * has optional demands too: first requirements until there are no more, then supplies and what these bring in. Of
   * each level those come first that the lockfile had answered.
   */
  private keepOptional(assumptions: readonly Literal[], idle: ReadonlySet<Entry>): void {
    const all = this.model.optional.filter((one) => one.pool.releases.length > 0 && !idle.has(one));
    const choices = [...assumptions];
    const decided = new Set<Entry>();
    const isOpen = (one: Entry): boolean =>
      !decided.has(one) && this.model.solver.holds(isTrue(one.owner));
    const isSupply = ({ name }: Entry): boolean => name.kind === 'supply';
    for (;;) {
      const open = all.filter(isOpen);
      if (open.length === 0) return;
      const asked = open.filter((one) => !isSupply(one));
      const level = asked.length > 0 ? asked : open;
      const isNew = ({ held }: Entry): boolean => held === NONE;
      for (const group of [level.filter((one) => !isNew(one)), level.filter(isNew)]) {
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
    for (const variable of this.model.variableOf) if (variable !== NONE) all.push(variable);
    for (const { answers } of this.model.toldApart) all.push(...answers!.values());
    return all.map(isTrue).filter((literal) => this.model.solver.holds(literal));
  }

  private decide(): Literal | null {
    const { level } = this.model.solver;
    const { length } = this.order;
    const start = this.cursors[level] ?? 0;
    // In a cycle a package may get demands after its turn, so the search ends after a round without a decision.
    for (let cursor = start; cursor < Math.max(start, length) + length; cursor++) {
      const packageNumber = this.order[cursor % length]!;
      const literal =
        this.decideOn(packageNumber) ?? (cursor < length ? null : this.decideAnswer(packageNumber));
      if (literal === null) continue;
      this.cursors[level + 1] = cursor;
      return literal;
    }
    return null;
  }

  /** The next copy that demands on a package ask for, or null. */
  private decideOn(packageNumber: number): Literal | null {
    const isPossible = (release: number): boolean =>
      this.model.isOpen(this.model.variableOf[release]!);
    // What had an answer keeps it while it can, also where another copy would do.
    const open = (this.model.entriesOn[packageNumber] ?? []).filter(
      (entry) =>
        this.model.isActive(entry) &&
        ((entry.held !== NONE && isPossible(entry.held)) ||
          !entry.pool.releases.some((release) => this.model.isCopy(release))),
    );
    if (open.length === 0) return null;
    const held = this.mostHeld(open, isPossible);
    if (held !== null) return isTrue(this.model.variableOf[held]!);
    const pools = [...new Set(open.map(({ pool }) => pool))].map((pool) => ({
      ...pool,
      releases: pool.releases.filter(isPossible),
    }));
    const [first] = fewestReleases(this.model.catalog, pools, (release) =>
      this.held.isHeld(release),
    );
    return isTrue(this.model.variableOf[first!]!);
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
      ([a, x], [b, y]) => y - x || compareByPreference(this.model.catalog, a, b),
    );
    return best?.[0] ?? null;
  }

  private decideAnswer(packageNumber: number): Literal | null {
    for (const entry of this.model.entriesOn[packageNumber] ?? []) {
      if (entry.answers === null || !this.model.isActive(entry)) continue;
      const all = [...entry.answers];
      if (all.some(([, variable]) => this.model.solver.holds(isTrue(variable)))) continue;
      const open = all.filter(([, variable]) => this.model.isOpen(variable)).map(([one]) => one);
      const copies = open.filter((release) => this.model.isCopy(release));
      const best = this.bestAnswer(entry, copies.length > 0 ? copies : open);
      return isTrue(entry.answers.get(best)!);
    }
    return null;
  }

  private bestAnswer({ held }: Entry, releases: readonly number[]): number {
    if (releases.includes(held)) return held;
    return [...releases].sort((a, b) => compareByPreference(this.model.catalog, a, b))[0]!;
  }

  /** The answers that were found, for a settlement to take before anything is added to the model. */
  private narrowing(): Narrowing {
    return {
      narrow: (name, pool) => {
        const entry = this.model.entryOf(name);
        if (entry === undefined || !this.model.solver.holds(isTrue(entry.owner))) return pool;
        // A requirement that no release could answer is not kept out by the policy.
        if (entry.pool.releases.length === 0) return pool;
        const answer = this.answerOf(entry);
        return { ...entry.pool, releases: answer === null ? [] : [answer], isNarrowed: true };
      },
    };
  }

  /** What was found to answer a demand; null: it is not met. */
  private answerOf(entry: Entry): number | null {
    if (!this.model.isActive(entry)) return null;
    const told = [...(entry.answers ?? [])].filter(([, one]) =>
      this.model.solver.holds(isTrue(one)),
    );
    const possible =
      told.length > 0
        ? told.map(([release]) => release)
        : entry.pool.releases.filter((release) => this.model.isCopy(release));
    return possible.length === 0 ? null : this.bestAnswer(entry, possible);
  }
}
