import type { Project } from '../workspace/index.js';
import {
  PeerProviders,
  type PeerGroup,
  type ProvidedPeer,
  type Provider,
} from './peer-providers.js';
import type { Settlement, Watch } from './settlement.js';

/** Ranges by project and name of a peer. */
type Asked = Map<string, { readonly project: number; readonly name: string; texts: Set<string> }>;

/**
 * Settles all demands and supplies projects with the peers that copies below them ask for and that
 * nothing on the way provides. A supply brings copies of its own, so this repeats until no more is asked.
 *
 * It ends: what is asked for only grows, and there are finitely many releases to ask; what nobody asks
 * for any more is taken back, each range once at most.
 * @returns the peers that are not met, one entry for each copy and provider
 */
export function supplyPeers(
  settlement: Settlement,
  projects: readonly Project[],
  watch: Watch,
): readonly ProvidedPeer[] {
  settlement.withdrawAll();
  const asked: Asked = new Map();
  const takenBack = new Set<string>();
  for (;;) {
    settlement.settle(watch);
    const providers = new PeerProviders(settlement, projects);
    const groups = providers.groups().map((group) => ({
      ...group,
      providers: providers.providersAbove(group.copies, group.peer.name),
    }));
    const wanted = wantedOf(settlement, groups);
    const changed = new Set([...grow(asked, wanted)]);
    if (changed.size === 0) for (const key of takeBack(asked, wanted, takenBack)) changed.add(key);
    if (changed.size === 0) return unmetOf(providers, groups);
    for (const key of [...changed].sort()) {
      const { project, name, texts } = asked.get(key)!;
      const target = settlement.catalog.numberOf.get(name)!;
      if (texts.size === 0) settlement.withdraw(project, name);
      else
        settlement.supply(project, {
          name,
          ...settlement.usable.poolWithin(target, [...texts].sort()),
        });
    }
  }
}

interface Provided extends PeerGroup {
  readonly providers: readonly Provider[];
}

/** What is asked of each project's supplies as things stand. */
function wantedOf(settlement: Settlement, groups: readonly Provided[]): Asked {
  const wanted: Asked = new Map();
  for (const { peer, providers } of groups) {
    if (peer.isOptional) continue;
    for (const provider of providers) {
      const project = suppliedProject(settlement, provider);
      if (project === null) continue;
      const key = `${project} ${peer.name}`;
      const one = wanted.get(key) ?? { project, name: peer.name, texts: new Set() };
      wanted.set(key, one);
      one.texts.add(peer.range);
    }
  }
  return wanted;
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
  if (provider.kind === 'project' || provider.demand.owner >= 0) return null;
  const project = ~provider.demand.owner;
  return settlement.isSupply(provider.demand) ? project : null;
}

function* grow(asked: Asked, wanted: Asked): Iterable<string> {
  for (const [key, { project, name, texts }] of wanted) {
    const one = asked.get(key) ?? { project, name, texts: new Set() };
    asked.set(key, one);
    const before = one.texts.size;
    for (const text of texts) one.texts.add(text);
    if (one.texts.size > before) yield key;
  }
}

function* takeBack(asked: Asked, wanted: Asked, takenBack: Set<string>): Iterable<string> {
  for (const [key, { texts }] of asked) {
    for (const text of [...texts]) {
      if (wanted.get(key)?.texts.has(text) === true || takenBack.has(`${key} ${text}`)) continue;
      takenBack.add(`${key} ${text}`);
      texts.delete(text);
      yield key;
    }
  }
}
