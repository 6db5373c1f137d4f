import type { Settlement, Watch } from '../choose/settlement.js';
import type { Engine, Question } from '../engine.js';
import { NONE, type Demand } from '../model/demand.js';
import type { Resolution } from '../model/resolution.js';
import type { BoundPackages } from '../policy/bound-packages.js';
import type { RePick } from '../model/held-answers.js';

/** The effect of other picks. */
export interface Trial {
  readonly copies: number;
  /** How many copies a package has then. */
  copiesOf(name: string): number;
  hasCopy(name: string, version: string): boolean;
}

/**
 * Tries other picks on a resolution, each by itself: the answers that are held are changed, what follows is settled
 * from there, and all is put back. Where copies with peers may be touched, and where the resolution is one that
 * a policy had to be searched for, a trial is a resolution of its own.
 */
export class PickTrials {
  private readonly settlement: Settlement | null;
  private readonly bound: BoundPackages | null;
  /** By release: does it ask for a peer, or bring in what does? */
  private readonly leadsToPeers: Uint8Array;
  private readonly countsBefore: ReadonlyMap<string, number>;

  /** Cost: one resolution. */
  constructor(
    private readonly engine: Engine,
    private readonly question: Omit<Question, 'before' | 'refresh'>,
    private readonly resolution: Resolution,
    private readonly watch: Watch = () => undefined,
  ) {
    const counts = new Map<string, number>();
    for (const { name } of resolution.copies) counts.set(name, (counts.get(name) ?? 0) + 1);
    this.countsBefore = counts;
    const settled = engine.settled({ ...question, before: resolution }, watch);
    this.settlement = settled?.settlement ?? null;
    this.bound = settled?.bound ?? null;
    this.leadsToPeers = this.settlement === null ? new Uint8Array() : leadsToPeers(this.settlement);
    this.forgetTouched();
  }

  /**
   * Calls back with the effect of these picks; null: there is no answer with them.
   * Cost: what the picks touch; a resolution where peers may depend on it.
   */
  try<T>(rePicks: readonly RePick[], read: (trial: Trial | null) => T): T {
    this.watch(0);
    const { settlement } = this;
    if (settlement === null) return read(this.byResolving(rePicks));
    const changed = this.hold(settlement, rePicks);
    settlement.settle(this.watch);
    const isPlain = !this.touchesPeers(settlement, rePicks) && this.bound!.isHeededBy(settlement);
    try {
      return read(isPlain ? this.trialOf(settlement) : this.byResolving(rePicks));
    } finally {
      for (const [demand, held] of changed) settlement.holdAnswer(demand, held);
      settlement.settle(this.watch);
      this.forgetTouched();
    }
  }

  private hold(
    settlement: Settlement,
    rePicks: readonly RePick[],
  ): readonly (readonly [Demand, number])[] {
    const { catalog } = settlement;
    const changed: (readonly [Demand, number])[] = [];
    for (const { name, from, to } of rePicks) {
      const target = catalog.numberOf.get(name);
      const [old, now] = [catalog.releaseNumber(name, from), catalog.releaseNumber(name, to)];
      if (target === undefined || old === null || now === null) continue;
      for (const demand of settlement.demandsOn[target]!) {
        if (demand.answer !== old || !demand.pool.releases.includes(now)) continue;
        if (settlement.isSupply(demand)) continue;
        changed.push([demand, demand.held]);
        settlement.holdAnswer(demand, now);
      }
    }
    return changed;
  }

  private trialOf(settlement: Settlement): Trial {
    const { catalog } = settlement;
    return {
      copies: [...settlement.copies()].length,
      copiesOf: (name) => settlement.copiesOf(catalog.numberOf.get(name)!).length,
      hasCopy: (name, version) => {
        const release = catalog.releaseNumber(name, version);
        return release !== null && settlement.isCopy(release);
      },
    };
  }

  /** May a chain to a copy with peers have changed? */
  private touchesPeers(settlement: Settlement, rePicks: readonly RePick[]): boolean {
    const { catalog, touchedReleases, touchedProjects, touchedSupplies } = settlement;
    if (touchedSupplies.size > 0) return true;
    const packages = new Set(rePicks.map(({ name }) => catalog.numberOf.get(name)));
    const leads = (release: number): boolean =>
      this.leadsToPeers[release] === 1 || catalog.releases[release]!.peers.length > 0;
    for (const release of touchedReleases) {
      packages.add(catalog.packageOf[release]);
      if (leads(release)) return true;
      if (
        settlement
          .needDemands(release)
          .some((one) => one !== null && one.answer !== NONE && leads(one.answer))
      )
        return true;
    }
    for (const project of touchedProjects)
      for (const demand of settlement.projectDemands(project))
        if (
          demand !== null &&
          packages.has(demand.pool.package) &&
          demand.answer !== NONE &&
          leads(demand.answer)
        )
          return true;
    return false;
  }

  private byResolving(rePicks: readonly RePick[]): Trial | null {
    const outcome = this.engine.resolve(
      { ...this.question, before: this.resolution, rePicks },
      this.watch,
    );
    if (outcome.kind !== 'answered') return null;
    const { copies } = outcome.resolution;
    return {
      copies: copies.length,
      copiesOf: (name) => copies.filter((one) => one.name === name).length,
      hasCopy: (name, version) =>
        copies.some((one) => one.name === name && one.version === version),
    };
  }

  /** Is there a package with more copies in a trial than before? Looks at those that the picks touched. */
  hasMoreOfAny(trial: Trial): boolean {
    const touched = this.settlement?.touchedReleases;
    const names =
      touched === undefined || touched.size === 0
        ? [...this.countsBefore.keys()]
        : [...touched].map((release) => this.settlement!.catalog.nameOf(release));
    return names.some(
      (name) => trial.copiesOf(name) > Math.max(1, this.countsBefore.get(name) ?? 0),
    );
  }

  private forgetTouched(): void {
    this.settlement?.touchedReleases.clear();
    this.settlement?.touchedProjects.clear();
    this.settlement?.touchedSupplies.clear();
  }
}

function leadsToPeers(settlement: Settlement): Uint8Array {
  const { catalog } = settlement;
  const leads = new Uint8Array(catalog.releases.length);
  const owners = new Map<number, number[]>();
  const open: number[] = [];
  for (const copy of settlement.copies()) {
    if (catalog.releases[copy]!.peers.length > 0) open.push(copy);
    for (const demand of settlement.needDemands(copy)) {
      if (demand === null || demand.answer === NONE) continue;
      const known = owners.get(demand.answer);
      if (known === undefined) owners.set(demand.answer, [copy]);
      else known.push(copy);
    }
  }
  for (let next = open.pop(); next !== undefined; next = open.pop()) {
    if (leads[next] === 1) continue;
    leads[next] = 1;
    open.push(...(owners.get(next) ?? []));
  }
  return leads;
}
