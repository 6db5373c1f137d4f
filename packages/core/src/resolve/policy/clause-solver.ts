/** A variable that must be true (2 x variable) or false (2 x variable + 1). */
export type Literal = number;

export function isTrue(variable: number): Literal {
  return 2 * variable;
}

export function isFalse(variable: number): Literal {
  return 2 * variable + 1;
}

/** Found: what is true holds together; everything undecided may be false. Else: assumptions that cannot all hold. */
export type SolverOutcome =
  | { readonly kind: 'found' }
  | { readonly kind: 'clash'; readonly assumptions: readonly Literal[] };

/** Variables of which at most one may be true, while the guard is true or where there is none. */
interface Group {
  readonly variables: readonly number[];
  readonly guard: number | null;
}

const NO_REASON = -1;
const OPEN = -1;

/**
 * Decides whether clauses over true-or-false variables can hold together: unit propagation, and from
 * every conflict a learned clause that says what may not be decided again, with a jump back to where
 * it would have mattered. What to decide is the caller's; the same decisions give the same outcome.
 *
 * Sources: J. P. Marques-Silva and K. A. Sakallah, GRASP: a search algorithm for propositional
 * satisfiability, IEEE Trans. Computers 48(5), 1999 (conflict-driven learning, first unique implication
 * point); M. W. Moskewicz et al., Chaff: engineering an efficient SAT solver, DAC 2001 (two watched literals).
 */
export class ClauseSolver {
  /** Clauses given and learned. The first two literals of each are watched. */
  private readonly clauses: Literal[][] = [];
  private readonly watches: number[][] = [];
  /** By literal: 1 holds, 0 does not, OPEN. */
  private readonly values: number[] = [];
  private readonly levels: number[] = [];
  private readonly reasons: number[] = [];
  /** The variable whose truth made this one false, where at most one of both may be true. */
  private readonly rivals: number[] = [];
  private readonly groups: (Group | undefined)[] = [];
  /** By guard: the members of its groups. */
  private readonly guarded: (Set<number> | undefined)[] = [];
  private readonly trail: Literal[] = [];
  private readonly levelStarts: number[] = [];
  private propagated = 0;
  private isHopeless = false;

  newVariable(): number {
    const variable = this.levels.length;
    this.values.push(OPEN, OPEN);
    this.watches.push([], []);
    this.levels.push(0);
    this.reasons.push(NO_REASON);
    this.rivals.push(NO_REASON);
    this.groups.push(undefined);
    this.guarded.push(undefined);
    return variable;
  }

  holds(literal: Literal): boolean {
    return this.values[literal] === 1;
  }

  /** Has the literal been ruled out? */
  fails(literal: Literal): boolean {
    return this.values[literal] === 0;
  }

  /** How many decisions stand. */
  get level(): number {
    return this.levelStarts.length;
  }

  /**
   * At most one of these may be true. A variable is in one such group at most.
   * @param guard a variable, in no group itself, without whose truth they may all be true
   */
  addAtMostOne(variables: readonly number[], guard: number | null = null): void {
    const group = { variables, guard };
    for (const variable of variables) this.groups[variable] = group;
    if (guard === null) return;
    const members = (this.guarded[guard] ??= new Set());
    for (const variable of variables) members.add(variable);
  }

  /** Demands that one of these literals, no two of one variable, holds. Takes back all decisions. */
  addClause(literals: readonly Literal[]): void {
    this.backTo(0);
    const open = literals.filter((literal) => !this.fails(literal));
    if (open.some((literal) => this.holds(literal))) return;
    if (open.length === 0) this.isHopeless = true;
    else if (open.length === 1) this.assign(open[0]!, NO_REASON, NO_REASON);
    else this.store([...open]);
  }

  /**
   * Looks for an assignment under which all clauses and assumptions hold.
   * @param decide the next literal to try, one that is open; null: nothing is left that must be decided
   * @param watch is called now and then; what it throws stops the search, and the solver can be asked again
   */
  solve(
    assumptions: readonly Literal[],
    decide: () => Literal | null,
    watch: () => void = () => undefined,
  ): SolverOutcome {
    this.backTo(0);
    for (let round = 1; ; round++) {
      if (round % 512 === 0) watch();
      const conflict = this.isHopeless ? [] : this.propagate();
      if (conflict !== null) {
        if (this.level === 0 || this.isHopeless) {
          this.isHopeless = true;
          return { kind: 'clash', assumptions: [] };
        }
        this.learn(conflict);
        continue;
      }
      const next = this.level < assumptions.length ? assumptions[this.level]! : decide();
      if (next === null) return { kind: 'found' };
      if (this.fails(next)) return { kind: 'clash', assumptions: this.blame(next, assumptions) };
      this.levelStarts.push(this.trail.length);
      if (!this.holds(next)) this.assign(next, NO_REASON, NO_REASON);
    }
  }

  private assign(literal: Literal, reason: number, rival: number): void {
    const variable = literal >> 1;
    this.values[literal] = 1;
    this.values[literal ^ 1] = 0;
    this.levels[variable] = this.level;
    this.reasons[variable] = reason;
    this.rivals[variable] = rival;
    this.trail.push(literal);
  }

  private store(clause: Literal[]): number {
    const number = this.clauses.push(clause) - 1;
    this.watches[clause[0]!]!.push(number);
    this.watches[clause[1]!]!.push(number);
    return number;
  }

  /** Draws all conclusions. @returns the literals that cannot all fail, yet do; null: no conflict */
  private propagate(): readonly Literal[] | null {
    while (this.propagated < this.trail.length) {
      const literal = this.trail[this.propagated++]!;
      if ((literal & 1) === 0) {
        for (const variable of this.guarded[literal >> 1] ?? [literal >> 1]) {
          const conflict = this.ruleOutRivals(variable);
          if (conflict !== null) return conflict;
        }
      }
      const conflict = this.visitWatches(literal ^ 1);
      if (conflict !== null) return conflict;
    }
    return null;
  }

  private ruleOutRivals(variable: number): readonly Literal[] | null {
    const group = this.groups[variable];
    if (group === undefined || !this.holds(isTrue(variable))) return null;
    const { variables, guard } = group;
    if (guard !== null && !this.holds(isTrue(guard))) return null;
    for (const other of variables) {
      if (other === variable || this.fails(isTrue(other))) continue;
      if (this.holds(isTrue(other))) return [isFalse(other), ...this.ruledOutBy(variable)];
      this.assign(isFalse(other), NO_REASON, variable);
    }
    return null;
  }

  /** The literals whose failing rules out the rivals of a variable. */
  private ruledOutBy(variable: number): readonly Literal[] {
    const { guard } = this.groups[variable]!;
    return guard === null ? [isFalse(variable)] : [isFalse(variable), isFalse(guard)];
  }

  private visitWatches(failed: Literal): readonly Literal[] | null {
    const watching = this.watches[failed]!;
    let kept = 0;
    for (let i = 0; i < watching.length; i++) {
      const number = watching[i]!;
      const clause = this.clauses[number]!;
      if (clause[0] === failed) [clause[0], clause[1]] = [clause[1]!, failed];
      if (!this.holds(clause[0]!)) {
        const at = this.notFailing(clause);
        if (at > 0) {
          [clause[1], clause[at]] = [clause[at]!, failed];
          this.watches[clause[1]]!.push(number);
          continue;
        }
        if (this.fails(clause[0]!)) {
          while (i < watching.length) watching[kept++] = watching[i++]!;
          watching.length = kept;
          return clause;
        }
        this.assign(clause[0]!, number, NO_REASON);
      }
      watching[kept++] = number;
    }
    watching.length = kept;
    return null;
  }

  /** Index of an unwatched literal that does not fail, or 0. */
  private notFailing(clause: readonly Literal[]): number {
    for (let at = 2; at < clause.length; at++) if (!this.fails(clause[at]!)) return at;
    return 0;
  }

  /** The literals whose failing made this one hold. */
  private causesOf(literal: Literal): readonly Literal[] {
    const variable = literal >> 1;
    const rival = this.rivals[variable]!;
    if (rival !== NO_REASON) return this.ruledOutBy(rival);
    const reason = this.reasons[variable]!;
    return reason === NO_REASON ? [] : this.clauses[reason]!.filter((one) => one !== literal);
  }

  /** Learns from a conflict up to the first unique implication point, and jumps back. */
  private learn(conflict: readonly Literal[]): void {
    const isSeen = new Set<number>();
    const learned: Literal[] = [];
    let open = 0;
    let literals = conflict;
    let at = this.trail.length;
    let point: Literal;
    for (;;) {
      for (const literal of literals) {
        const variable = literal >> 1;
        if (isSeen.has(variable) || this.levels[variable] === 0) continue;
        isSeen.add(variable);
        if (this.levels[variable] === this.level) open += 1;
        else learned.push(literal);
      }
      do point = this.trail[--at]!;
      while (!isSeen.has(point >> 1));
      open -= 1;
      if (open === 0) break;
      literals = this.causesOf(point);
    }
    learned.sort((a, b) => this.levels[b >> 1]! - this.levels[a >> 1]! || a - b);
    this.backTo(learned.length === 0 ? 0 : this.levels[learned[0]! >> 1]!);
    const assertion = point ^ 1;
    if (learned.length === 0) this.assign(assertion, NO_REASON, NO_REASON);
    else this.assign(assertion, this.store([assertion, ...learned]), NO_REASON);
  }

  /** The assumptions that, together with `next`, cannot hold. */
  private blame(next: Literal, assumptions: readonly Literal[]): readonly Literal[] {
    const assumed = new Set(assumptions);
    const blamed = new Set([next]);
    const isSeen = new Set([next >> 1]);
    const open = [next ^ 1];
    for (let literal = open.pop(); literal !== undefined; literal = open.pop()) {
      const causes = this.causesOf(literal);
      if (causes.length === 0 && assumed.has(literal) && this.levels[literal >> 1]! > 0)
        blamed.add(literal);
      for (const cause of causes) {
        if (isSeen.has(cause >> 1)) continue;
        isSeen.add(cause >> 1);
        open.push(cause ^ 1);
      }
    }
    return assumptions.filter((literal) => blamed.has(literal));
  }

  private backTo(level: number): void {
    if (this.level <= level) return;
    const start = this.levelStarts[level]!;
    for (let i = start; i < this.trail.length; i++) {
      this.values[this.trail[i]!] = OPEN;
      this.values[this.trail[i]! ^ 1] = OPEN;
    }
    this.trail.length = start;
    this.levelStarts.length = level;
    this.propagated = Math.min(this.propagated, start);
  }
}
