import type { Requirement, Workspace } from '../../workspace/index.js';
import { demandKey, nameOfDemand, type DemandName, type Narrowing } from '../choose/narrowing.js';
import { Settlement, type Watch } from '../choose/settlement.js';
import { NONE, type Demand } from '../model/demand.js';
import type { Held } from '../model/held-answers.js';
import type { Pool, UsableReleases } from '../model/usable-releases.js';
import { supplyPeers, type UnmetDemand } from '../peers/supply-peers.js';
import type { BoundPackages } from './bound-packages.js';
import { isTrue, type Literal } from './clause-solver.js';
import { IdleSupplies } from './idle-supplies.js';
import { PolicySearch } from './policy-search.js';
import { SearchModel, type Clash, type Entry, type GivenAnswer } from './search-model.js';

interface Settled {
  readonly kind: 'settled';
  readonly settlement: Settlement;
  readonly unmet: readonly UnmetDemand[];
}

/** With what cannot all be met, nothing of which can be left out for that. */
export type PolicyOutcome = Settled | { readonly kind: 'clash'; readonly roots: Clash };

/** The inputs that stay the same while parts of a workspace are answered. */
export interface PolicyTerms {
  readonly usable: UsableReleases;
  readonly bound: BoundPackages;
  readonly held: Held;
  readonly watch: Watch;
}

/**
 * Answers a workspace where the answer under `any` has more copies than the policy allows, or peers
 * that are not met though the policy is strict. Peers depend on which copy answers which demand, so they
 * are looked at when a search has found something, and what is wrong there is forbidden to the next.
 * It ends: every round adds a supply that was not known, sets one aside or takes it back, or forbids answers that were
 * given, and there are finitely many of each.
 */
export class PolicyAnswer {
  private readonly model: SearchModel;
  private readonly search: PolicySearch;
  private readonly isStrict: boolean;

  /** @param isGuarded whether it will be asked which policies on copies a clash takes */
  constructor(
    private readonly terms: PolicyTerms,
    private readonly workspace: Workspace,
    isGuarded = false,
  ) {
    const { usable, bound, held, watch } = terms;
    this.model = new SearchModel(usable, bound, held, workspace, isGuarded);
    this.search = new PolicySearch(this.model, bound, held, () => watch(0));
    this.isStrict = workspace.policy.peers === 'strict';
  }

  answer(): PolicyOutcome {
    const outcome = this.settle(() => true);
    if (outcome.kind === 'settled') return outcome;
    return {
      kind: 'clash',
      roots: this.rootsAmong(this.search.smallestClash(outcome.assumptions)!),
    };
  }

  /**
   * Packages whose policies on copies are enough for the requirements to clash; null: they can be met under all of
   * them. None of the first `most` can be left out.
   */
  policiesOfClash(most: number): readonly number[] | null {
    const { guards } = this.model;
    const clashUnder = (packages: ReadonlySet<number> | null): readonly number[] | null => {
      const outcome = this.settle((one) => packages === null || packages.has(one));
      if (outcome.kind === 'settled') return null;
      const blamed = new Set(outcome.assumptions);
      return [...guards]
        .flatMap(([one, guard]) => (blamed.has(isTrue(guard)) ? [one] : []))
        .sort((a, b) => a - b);
    };
    const all = clashUnder(null);
    if (all === null) return null;
    let needed = all;
    for (const one of all.slice(0, most)) {
      if (!needed.includes(one)) continue;
      needed = clashUnder(new Set(needed.filter((other) => other !== one))) ?? needed;
    }
    return needed;
  }

  /** @param isInForce whether a package's policy on copies is to hold, where it can be left out */
  private settle(
    isInForce: (packageNumber: number) => boolean,
  ): Settled | { readonly kind: 'clash'; readonly assumptions: readonly Literal[] } {
    const { usable, held, bound, watch } = this.terms;
    const { projects } = this.workspace;
    const idle = new IdleSupplies(this.model);
    for (;;) {
      watch(0);
      const { roots, guards } = this.model;
      const outcome = this.search.search(
        [
          ...roots.map(({ variable }) => isTrue(variable)),
          ...[...guards].flatMap(([one, guard]) => (isInForce(one) ? [isTrue(guard)] : [])),
        ],
        idle.entries,
      );
      if (outcome.kind === 'clash') return outcome;
      const asked = new Map<string, { name: SupplyName; pool: Pool; texts: readonly string[] }>();
      const narrowing: Narrowing = {
        narrow: (demand, pool) => {
          if (demand.kind !== 'supply') return outcome.narrowing.narrow(demand, pool);
          const name = this.nameOfSupply(demand);
          if (this.model.entryOf(name) === undefined)
            asked.set(demandKey(name), {
              name,
              pool: this.isStrict ? usable.everyRelease(pool.package) : pool,
              texts: demand.texts,
            });
          return outcome.narrowing.narrow(name, pool);
        },
      };
      const fresh = (): Settlement => new Settlement(usable, held, narrowing);
      const { settlement, unmet } = supplyPeers(projects, fresh, watch);
      const unknown = [...asked.values()].filter(
        ({ pool }) => bound.isRelevant[pool.package] === 1,
      );
      for (const { name, pool, texts } of unknown) this.model.addSupply(name, pool, texts);
      if (unknown.length > 0) continue;
      if (this.isStrict && unmet.length > 0) {
        for (const one of unmet) forbidUnmet(this.model, settlement, one);
        continue;
      }
      const isSteady = idle.compare(this.suppliesOf(settlement));
      if (isSteady) return { kind: 'settled', settlement, unmet };
    }
  }

  private nameOfSupply(name: SupplyName): SupplyName {
    return this.isStrict ? withoutTexts(name) : name;
  }

  /** What is asked for in the end. */
  private suppliesOf(settlement: Settlement): ReadonlySet<Entry> {
    const entries = this.workspace.projects.flatMap((_, project) =>
      settlement.suppliesOf(project).flatMap(({ name, texts }) => {
        const entry = this.model.entryOf(
          this.nameOfSupply({ kind: 'supply', project, name, texts }),
        );
        return entry === undefined ? [] : [entry];
      }),
    );
    return new Set(entries);
  }

  /**
   * The requirements that still clash when these are left out, each of which has to be there for it; null: the
   * others have an answer. Under strict peers that takes an answer of its own for each part that is tried.
   */
  clashWithout(removed: ReadonlySet<Requirement>): Clash | null {
    if (!this.isStrict) {
      const left = this.model.roots.filter(
        ({ demand }) => !demand.requirements.some((one) => removed.has(one)),
      );
      const clash = this.search.smallestClash(left.map(({ variable }) => isTrue(variable)));
      return clash === null ? null : this.rootsAmong(clash);
    }
    const part = partOf(this.workspace, (one) => !removed.has(one));
    const outcome = new PolicyAnswer(this.terms, part).answer();
    return outcome.kind === 'clash'
      ? smallestClash(this.terms, this.workspace, outcome.roots)
      : null;
  }

  private rootsAmong(assumptions: readonly Literal[]): Clash {
    const all = new Set(assumptions);
    return this.model.roots
      .filter(({ variable }) => all.has(isTrue(variable)))
      .map(({ demand }) => demand);
  }
}

/** The workspace with those requirements on packages alone that a test picks. */
export function partOf(
  workspace: Workspace,
  isIn: (requirement: Requirement) => boolean,
): Workspace {
  const projects = workspace.projects.map((project) => {
    const requirements = project.requirements.filter(
      (one) => one.meaning.kind === 'project' || isIn(one),
    );
    return requirements.length === project.requirements.length
      ? project
      : { ...project, requirements };
  });
  return { ...workspace, projects };
}

/** A clash of requirements alone: with these, and what they bring in, nothing else is needed for it. */
export function clashPart(workspace: Workspace, roots: Clash): Workspace {
  const all = new Set(roots.flatMap(({ requirements }) => requirements));
  return partOf(workspace, (one) => all.has(one));
}

/**
 * Leaves requirements out of a clash while what is left has no answer, until each has to be there. Under strict peers
 * one that is left out can make another necessary, so all are tried again after each that goes.
 */
export function smallestClash(terms: PolicyTerms, workspace: Workspace, roots: Clash): Clash {
  const isClash = (some: Clash): boolean =>
    some.length > 0 &&
    new PolicyAnswer(terms, clashPart(workspace, some)).answer().kind === 'clash';
  if (!isClash(roots)) return roots;
  let kept = roots;
  for (let at = 0; at < kept.length;) {
    const fewer = kept.filter((_, i) => i !== at);
    if (isClash(fewer)) {
      kept = fewer;
      at = 0;
    } else at += 1;
  }
  return kept;
}

type SupplyName = Extract<DemandName, { kind: 'supply' }>;

/**
 * Under strict peers a supply is one demand whatever is asked of it: each range is a condition that is
 * learned when it is not met.
 */
function withoutTexts(name: SupplyName): SupplyName {
  return { ...name, texts: [] };
}

function forbidUnmet(
  model: SearchModel,
  settlement: Settlement,
  { provider, chain }: UnmetDemand,
): void {
  const given = (demand: Demand): GivenAnswer => {
    const name = nameOfDemand(settlement, demand);
    return {
      name: name.kind === 'supply' ? withoutTexts(name) : name,
      release: demand.answer,
    };
  };
  const ours = chain.map(given);
  if (provider.kind !== 'release') return model.forbid(ours, null);
  const { link } = provider;
  if (link.answer !== NONE) return model.forbid([...ours, given(link)], null);
  model.forbid(ours, given(link).name);
}
