import type { Requirement, Workspace } from '../../workspace/index.js';
import { demandKey, nameOfDemand, type DemandName, type Narrowing } from '../choose/narrowing.js';
import { Settlement, type Watch } from '../choose/settlement.js';
import { NONE, type Demand } from '../model/demand.js';
import type { Held } from '../model/held-answers.js';
import type { Pool, UsableReleases } from '../model/usable-releases.js';
import { supplyPeers, type UnmetDemand } from '../peers/supply-peers.js';
import type { BoundPackages } from './bound-packages.js';
import { PolicySearch, type Clash, type GivenAnswer } from './policy-search.js';

export type PolicyOutcome =
  | {
      readonly kind: 'settled';
      readonly settlement: Settlement;
      readonly unmet: readonly UnmetDemand[];
    }
  | { readonly kind: 'clash'; readonly roots: Clash };

/** What stays the same while parts of a workspace are answered. */
export interface PolicyTerms {
  readonly usable: UsableReleases;
  readonly bound: BoundPackages;
  readonly held: Held;
  readonly watch: Watch;
}

/**
 * Answers a workspace where the answer under `any` has more copies than the policy allows, or peers
 * that are not met though the policy is strict. Peers hang on which copy answers which demand, so they
 * are looked at when a search has found something, and what is wrong there is forbidden to the next.
 * It ends: every round adds a supply that was not known or forbids answers that were given, and there are
 * finitely many of both.
 */
export class PolicyAnswer {
  private readonly search: PolicySearch;
  private readonly isStrict: boolean;

  constructor(
    private readonly terms: PolicyTerms,
    private readonly workspace: Workspace,
  ) {
    const { usable, bound, held, watch } = terms;
    this.search = new PolicySearch(usable, bound, held, workspace, () => watch(0));
    this.isStrict = workspace.policy.peers === 'strict';
  }

  answer(): PolicyOutcome {
    const { usable, held, bound, watch } = this.terms;
    const { projects } = this.workspace;
    for (;;) {
      watch(0);
      const outcome = this.search.search();
      if (outcome.kind === 'clash') return outcome;
      const asked = new Map<string, { name: SupplyName; pool: Pool; texts: readonly string[] }>();
      const narrowing: Narrowing = {
        narrow: (demand, pool) => {
          if (demand.kind !== 'supply') return outcome.narrowing.narrow(demand, pool);
          const name = this.isStrict ? withoutTexts(demand) : demand;
          if (!this.search.hasSupply(name))
            asked.set(demandKey(name), {
              name,
              pool: this.isStrict ? usable.everyRelease(pool.package) : pool,
              texts: demand.texts,
            });
          return outcome.narrowing.narrow(name, pool);
        },
      };
      const fresh = (): Settlement => new Settlement(usable, held, narrowing).setProjects(projects);
      const { settlement, unmet } = supplyPeers(fresh(), projects, fresh, watch);
      const unknown = [...asked.values()].filter(
        ({ pool }) => bound.isRelevant[pool.package] === 1,
      );
      for (const { name, pool, texts } of unknown) this.search.addSupply(name, pool, texts);
      if (unknown.length > 0) continue;
      if (!this.isStrict || unmet.length === 0) return { kind: 'settled', settlement, unmet };
      for (const one of unmet) forbidUnmet(this.search, settlement, one);
    }
  }

  /**
   * The requirements that still clash when these are left out, each of which has to be there for it; null: the
   * others have an answer. Under strict peers that takes an answer of its own for each part that is tried.
   */
  clashWithout(removed: ReadonlySet<Requirement>): Clash | null {
    if (!this.isStrict) return this.search.clashWithout(removed);
    const part = partOf(this.workspace, (one) => !removed.has(one));
    const outcome = new PolicyAnswer(this.terms, part).answer();
    return outcome.kind === 'clash'
      ? smallestClash(this.terms, this.workspace, outcome.roots)
      : null;
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
  search: PolicySearch,
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
  if (provider.kind !== 'release') return search.forbid(ours, null);
  const { link } = provider;
  if (link.answer !== NONE) return search.forbid([...ours, given(link)], null);
  search.forbid(ours, given(link).name);
}
