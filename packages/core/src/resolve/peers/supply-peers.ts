import { rangeContains } from '../../version/index.js';
import type { Project } from '../../workspace/index.js';
import {
  PeerProviders,
  type PeerGroup,
  type ProvidedPeer,
  type Provider,
} from './peer-providers.js';
import type { Demand } from '../model/demand.js';
import type { Settlement, Watch } from '../choose/settlement.js';

/** The ranges that a project is to be supplied with under one name. */
interface Wanted {
  readonly project: number;
  readonly name: string;
  readonly texts: Set<string>;
}

interface Supplied {
  /** The settlement that holds the answers: the given one, or one made for the purpose. */
  readonly settlement: Settlement;
  /** The peers that are not met, one entry for each copy and provider. */
  readonly unmet: readonly ProvidedPeer[];
}

/**
 * Settles all demands and supplies projects with the peers that copies below them ask for and that
 * nothing on the way provides. A supply brings copies of its own, so this repeats until no more is asked:
 * what is asked for only grows, and there are finitely many releases to ask.
 *
 * A supply may bring a release that others then join, so that nobody asks for the supply any more. Then
 * all is settled anew and every answer, once given, stays while supplies are added.
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
): readonly ProvidedPeer[] | null {
  const asked = new Map<string, Wanted>();
  for (;;) {
    settlement.settle(watch);
    if (doAnswersStay) settlement.keepAnswers();
    const providers = new PeerProviders(settlement, projects);
    let isThroughSupplies = false;
    const notice = (demand: Demand): boolean => {
      isThroughSupplies ||= settlement.isSupply(demand);
      return true;
    };
    const groups = providers.groups().map((group) => ({
      ...group,
      providers: providers.providersAbove(group.copies, group.peer.name, notice),
    }));
    const wanted = wantedOf(settlement, groups);
    const grown = grow(asked, wanted);
    if (grown.length === 0) {
      const reasons = isThroughSupplies ? groundedWants(settlement, providers, groups) : wanted;
      const isIdle = [...asked].some(
        ([key, { texts }]) => texts.size > (reasons.get(key)?.texts.size ?? 0),
      );
      return isIdle && !doAnswersStay ? null : unmetOf(providers, groups);
    }
    for (const { project, name, texts } of grown)
      settlement.supply(project, name, [...texts].sort());
  }
}

interface Provided extends PeerGroup {
  readonly providers: readonly Provider[];
}

/** What is asked of each project's supplies as things stand. */
function wantedOf(
  settlement: Settlement,
  groups: readonly Provided[],
): ReadonlyMap<string, Wanted> {
  const wanted = new Map<string, Wanted>();
  for (const { peer, providers } of groups) {
    if (peer.isOptional) continue;
    for (const provider of providers) {
      const project = suppliedProject(settlement, provider);
      if (project === null) continue;
      const key = supplyKey(project, peer.name);
      const one = wanted.get(key) ?? { project, name: peer.name, texts: new Set() };
      wanted.set(key, one);
      one.texts.add(peer.range);
    }
  }
  return wanted;
}

/**
 * What is asked by chains from requirements alone, or through supplies whose release is itself asked for so: a
 * supply, or its release, that only what it brings in asks for has no reason.
 */
function groundedWants(
  settlement: Settlement,
  providers: PeerProviders,
  groups: readonly Provided[],
): ReadonlyMap<string, Wanted> {
  for (let grounded: ReadonlyMap<string, Wanted> = new Map(); ;) {
    const known = grounded;
    const passes = (demand: Demand): boolean =>
      !settlement.isSupply(demand) || isAskedFor(settlement, demand, known);
    const next = wantedOf(
      settlement,
      groups.map((group) => ({
        ...group,
        providers: providers.providersAbove(group.copies, group.peer.name, passes),
      })),
    );
    if (textCount(next) === textCount(known)) return next;
    grounded = next;
  }
}

/** Does any of the ranges that are wanted of a supply admit its release? */
function isAskedFor(
  { catalog, usable }: Settlement,
  { owner, pool, answer }: Demand,
  wanted: ReadonlyMap<string, Wanted>,
): boolean {
  const name = catalog.names[pool.package]!;
  const texts = wanted.get(supplyKey(~owner, name))?.texts;
  const release = catalog.releases[answer];
  if (texts === undefined || release === undefined) return false;
  return [...texts].some((text) => rangeContains(usable.ranges.of(name, text), release.version));
}

function textCount(wanted: ReadonlyMap<string, Wanted>): number {
  return [...wanted.values()].reduce((sum, { texts }) => sum + texts.size, 0);
}

function supplyKey(project: number, name: string): string {
  return `${project} ${name}`;
}

function unmetOf(providers: PeerProviders, groups: readonly Provided[]): readonly ProvidedPeer[] {
  return groups.flatMap(({ peer, copies, providers: above }) =>
    above.every((provider) => providers.isMet(peer, provider))
      ? []
      : copies.flatMap((copy) =>
          providers
            .providersOf(copy, peer)
            .filter(({ provider }) => !providers.isMet(peer, provider)),
        ),
  );
}

/** The project that has nothing of its own for the peer, or null. */
function suppliedProject(settlement: Settlement, provider: Provider): number | null {
  if (provider.kind === 'none') return provider.project;
  if (provider.kind === 'project') return null;
  return settlement.isSupply(provider.demand) ? ~provider.demand.owner : null;
}

/** Adds what is newly wanted. @returns where anything was added, in an order of its own */
function grow(asked: Map<string, Wanted>, wanted: ReadonlyMap<string, Wanted>): readonly Wanted[] {
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
