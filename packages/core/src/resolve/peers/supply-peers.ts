import type { Project } from '../../workspace/index.js';
import type { Settlement, Watch } from '../choose/settlement.js';
import type { Demand } from '../model/demand.js';
import { PeerProviders, type ProvidedPeer } from './peer-providers.js';
import { SettledPeers } from './settled-peers.js';
import { WantedSupplies, type Wanted, type Wants } from './wanted-supplies.js';

export type UnmetDemand = ProvidedPeer<Demand>;

interface Supplied {
  /** The settlement that holds the answers: the given one, or one made for the purpose. */
  readonly settlement: Settlement;
  /** The peers that are not met, one entry for each copy and provider. */
  readonly unmet: readonly UnmetDemand[];
}

/**
 * Settles all demands and supplies projects with the peers that copies below them ask for and that
 * nothing on the way provides. A supply brings copies of its own, so this repeats until no more is asked:
 * what is asked for only grows, and there are finitely many releases to ask.
 *
 * A supply may bring a release that others then join, so that nobody asks for the supply any more. Then
 * all is settled again and every answer, once given, stays while supplies are added.
 * @param fresh makes a settlement of the same requirements
 */
export function supplyPeers(
  settlement: Settlement,
  projects: readonly Project[],
  fresh: () => Settlement,
  watch: Watch,
): Supplied {
  settlement.withdrawAll();
  const unmet = supply(settlement, projects, false, watch);
  if (unmet !== null) return { settlement, unmet };
  const steady = fresh();
  return { settlement: steady, unmet: supply(steady, projects, true, watch)! };
}

/** @returns null when something is supplied that nobody asks for in the end; never where answers stay */
function supply(
  settlement: Settlement,
  projects: readonly Project[],
  doAnswersStay: boolean,
  watch: Watch,
): readonly UnmetDemand[] | null {
  const asked = new Map<string, Wanted>();
  for (;;) {
    settlement.settle(watch);
    if (doAnswersStay) settlement.keepAnswers();
    const wants = new WantedSupplies(new PeerProviders(new SettledPeers(settlement, projects)));
    const grown = grow(asked, wants.asked());
    if (grown.length > 0) {
      for (const { project, name, texts } of grown)
        settlement.supply(project, name, [...texts].sort());
      continue;
    }
    return !doAnswersStay && isAnyIdle(asked, wants.grounded()) ? null : wants.unmet();
  }
}

/** Is any range supplied that has no reason in the end? */
function isAnyIdle(asked: Wants, grounded: Wants): boolean {
  return [...asked].some(([key, { texts }]) => texts.size > (grounded.get(key)?.texts.size ?? 0));
}

/** Adds what is newly wanted. @returns where anything was added, in an order of its own */
function grow(asked: Map<string, Wanted>, wanted: Wants): readonly Wanted[] {
  const grown: Wanted[] = [];
  for (const [key, { project, name, texts }] of wanted) {
    const one = asked.get(key) ?? { project, name, texts: new Set() };
    asked.set(key, one);
    const before = one.texts.size;
    for (const text of texts) one.texts.add(text);
    if (one.texts.size > before) grown.push(one);
  }
  return grown.sort((a, b) => a.project - b.project || (a.name < b.name ? -1 : 1));
}
