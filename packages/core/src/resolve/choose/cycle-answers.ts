import type { Catalog } from '../model/catalog.js';
import { NONE, type Demand } from '../model/demand.js';

type Needs = readonly (Demand | null)[];

/**
 * Answers packages that need each other in a cycle, for the demands on them from outside it.
 *
 * They are chosen in turn from the demands of the releases chosen so far, until nothing changes. If a
 * state comes back, demands once made are no longer withdrawn; they then only grow, and there are
 * finitely many, so this ends.
 */
export class CycleAnswers {
  /** By member and release: the needs of the releases chosen so far. */
  private readonly inner: ReadonlyMap<number, Map<number, Needs>>;

  /** @param members of the cycle, ascending */
  constructor(
    private readonly catalog: Catalog,
    private readonly members: readonly number[],
    private readonly outer: (member: number) => readonly Demand[],
    private readonly needsFor: (release: number) => Needs,
    private readonly choose: (demands: readonly Demand[]) => ReadonlySet<number>,
  ) {
    this.inner = new Map(members.map((member) => [member, new Map<number, Needs>()]));
  }

  /** The releases that a chain from outside reaches, with their needs; those inside are answered. */
  answer(): ReadonlyMap<number, Needs> {
    const seen = new Set<string>();
    let isGrowing = false;
    for (let last = ''; ;) {
      for (const member of this.members) this.answerMember(member, isGrowing);
      const state = this.state();
      if (state === last) return this.reached();
      if (seen.has(state)) isGrowing = true;
      seen.add(state);
      last = state;
    }
  }

  private answerMember(member: number, isGrowing: boolean): void {
    const demands = [...this.outer(member)];
    for (const byRelease of this.inner.values()) {
      for (const needs of byRelease.values())
        for (const demand of needs) if (demand?.pool.package === member) demands.push(demand);
    }
    const before = this.inner.get(member)!;
    const chosen = this.choose(demands);
    for (const release of chosen)
      if (!before.has(release)) before.set(release, this.needsFor(release));
    if (isGrowing) return;
    for (const release of [...before.keys()]) if (!chosen.has(release)) before.delete(release);
  }

  private state(): string {
    const chosen = this.members.map((member) => [...this.inner.get(member)!.keys()].sort().join());
    return chosen.join(';');
  }

  private reached(): ReadonlyMap<number, Needs> {
    const reached = new Map<number, Needs>();
    const open = this.members.flatMap((member) => this.outer(member).map(({ answer }) => answer));
    for (let release = open.pop(); release !== undefined; release = open.pop()) {
      if (release === NONE || reached.has(release)) continue;
      const needs = this.inner.get(this.catalog.packageOf[release]!)?.get(release);
      if (needs === undefined) continue;
      reached.set(release, needs);
      for (const demand of needs) if (demand !== null) open.push(demand.answer);
    }
    return reached;
  }
}
