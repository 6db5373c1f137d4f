import type { ReleasePeer } from '../../registry/index.js';
import { rangeContains, type Version } from '../../version/index.js';
import { NONE } from '../model/demand.js';
import type { PeerLink, PeerSource, Provider } from './peer-source.js';

/** Copies that ask for the same peer in the same range. */
export interface PeerGroup {
  readonly peer: ReleasePeer;
  /** Ascending. */
  readonly copies: readonly number[];
}

/** A provider with the chain that leads from it, or from the project where it is missing, down to the copy. */
export interface ProvidedPeer<L extends PeerLink> {
  readonly copy: number;
  readonly peer: ReleasePeer;
  readonly provider: Provider<L>;
  /** The links of the chain, the nearest to the copy first. */
  readonly chain: readonly L[];
}

/**
 * Finds what provides the peers of copies: the nearest owner up a chain that requires the package, at
 * last the project itself. One peer has as many providers as its chains have.
 */
export class PeerProviders<L extends PeerLink> {
  constructor(readonly source: PeerSource<L>) {}

  /** All peers of all copies, each asked for in the same way once. O(copies with peers). */
  groups(): readonly PeerGroup[] {
    const groups = new Map<string, { readonly peer: ReleasePeer; readonly copies: number[] }>();
    for (const copy of this.source.copiesWithPeers()) {
      for (const peer of this.source.peersOf(copy)) {
        const key = `${peer.name} ${String(peer.isOptional)} ${peer.range}`;
        const group = groups.get(key);
        if (group === undefined) groups.set(key, { peer, copies: [copy] });
        else group.copies.push(copy);
      }
    }
    return [...groups].sort(([a], [b]) => (a < b ? -1 : 1)).map(([, group]) => group);
  }

  /**
   * What provides a package to any of these copies, each provider once. O(links above them).
   * @param passes whether a chain may lead through a link
   */
  providersAbove(
    copies: readonly number[],
    name: string,
    passes: (link: L) => boolean = () => true,
  ): readonly Provider<L>[] {
    const found: Provider<L>[] = [];
    const visit = (provider: Provider<L>): unknown => found.push(provider);
    this.walkUp(copies, name, visit, undefined, passes);
    return found;
  }

  /** What provides a peer to one copy, with a shortest chain to each. O(links above it). */
  providersOf(copy: number, peer: ReleasePeer): readonly ProvidedPeer<L>[] {
    const found: ProvidedPeer<L>[] = [];
    const below = new Map<number, L>();
    this.walkUp(
      [copy],
      peer.name,
      (provider, link) => {
        const chain = [link];
        for (let next = below.get(link.answer); next; next = below.get(next.answer))
          chain.push(next);
        found.push({ copy, peer, provider, chain: chain.reverse() });
      },
      below,
    );
    return found;
  }

  /** Visits owners breadth first, and goes no further where one provides the package. */
  private walkUp(
    copies: readonly number[],
    name: string,
    visit: (provider: Provider<L>, link: L) => void,
    below?: Map<number, L>,
    passes: (link: L) => boolean = () => true,
  ): void {
    const providerAt = this.source.providersNamed(name);
    const seen = new Set<number>();
    const queued = new Set(copies);
    const queue = [...copies];
    for (let at = 0; at < queue.length; at++) {
      for (const link of this.source.askersOf(queue[at]!)) {
        const { owner } = link;
        // A chain does not pass the copy twice.
        if (seen.has(owner) || (copies.length === 1 && owner === copies[0])) continue;
        if (!passes(link)) continue;
        seen.add(owner);
        below?.set(owner, link);
        const provider = providerAt(owner);
        if (provider !== null) visit(provider, link);
        else if (!queued.has(owner)) {
          queued.add(owner);
          queue.push(owner);
        }
      }
    }
  }

  /** The version that a provider gives, or null. */
  versionOf(provider: Provider<L>): Version | null {
    switch (provider.kind) {
      case 'release': {
        const { answer } = provider.link;
        return answer === NONE ? null : this.source.versionOf(answer);
      }
      case 'project':
        return provider.version;
      case 'none':
        return null;
    }
  }

  /** Does the provider give what the peer asks for? A peer that is optional may be missing. */
  isMet(peer: ReleasePeer, provider: Provider<L>): boolean {
    if (provider.kind === 'none') return peer.isOptional;
    if (provider.kind === 'release' && provider.link.answer === NONE) return peer.isOptional;
    const version = this.versionOf(provider);
    return version !== null && rangeContains(this.source.rangeOf(peer.name, peer.range), version);
  }
}
