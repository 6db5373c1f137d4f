import type { Workspace } from '../../workspace/index.js';
import type { BoundPackages } from './bound-packages.js';
import { NONE, type Demand } from '../model/demand.js';
import type { Held } from '../model/held-answers.js';
import { demandKey, nameOfDemand, type DemandName, type Narrowing } from '../choose/narrowing.js';
import { PolicySearch, type GivenAnswer, type RootDemand } from './policy-search.js';
import { Settlement, type Watch } from '../choose/settlement.js';
import { supplyPeers, type UnmetDemand } from '../peers/supply-peers.js';
import type { Pool, UsableReleases } from '../model/usable-releases.js';

export type PolicyOutcome =
  | {
      readonly kind: 'settled';
      readonly settlement: Settlement;
      readonly unmet: readonly UnmetDemand[];
    }
  | { readonly kind: 'clash'; readonly roots: readonly RootDemand[] };

/**
 * Answers a workspace where the answer under `any` has more copies than the policy allows, or peers
 * that are not met though the policy is strict. Peers hang on which copy answers which demand, so they
 * are looked at when a search has found something, and what is wrong there is forbidden to the next.
 * It ends: every round adds a supply that was not known or forbids answers that were given, and there are
 * finitely many of both.
 */
export function answerUnderPolicy(
  usable: UsableReleases,
  bound: BoundPackages,
  held: Held,
  workspace: Workspace,
  watch: Watch,
): PolicyOutcome {
  const search = new PolicySearch(usable, bound, held, workspace);
  const isStrict = workspace.policy.peers === 'strict';
  for (;;) {
    watch(0);
    const outcome = search.search();
    if (outcome.kind === 'clash') return outcome;
    const asked = new Map<string, { name: SupplyName; pool: Pool; texts: readonly string[] }>();
    const narrowing: Narrowing = {
      narrow: (demand, pool) => {
        if (demand.kind !== 'supply') return outcome.narrowing.narrow(demand, pool);
        const name = isStrict ? withoutTexts(demand) : demand;
        if (!search.hasSupply(name))
          asked.set(demandKey(name), {
            name,
            pool: isStrict ? usable.everyRelease(pool.package) : pool,
            texts: demand.texts,
          });
        return outcome.narrowing.narrow(name, pool);
      },
    };
    const fresh = (): Settlement =>
      new Settlement(usable, held, narrowing).setProjects(workspace.projects);
    const { settlement, unmet } = supplyPeers(fresh(), workspace.projects, fresh, watch);
    const unknown = [...asked.values()].filter(({ pool }) => bound.isRelevant[pool.package] === 1);
    for (const { name, pool, texts } of unknown) search.addSupply(name, pool, texts);
    if (unknown.length > 0) continue;
    if (!isStrict || unmet.length === 0) return { kind: 'settled', settlement, unmet };
    for (const one of unmet) forbidUnmet(search, settlement, one);
  }
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
