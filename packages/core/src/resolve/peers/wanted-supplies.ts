import { rangeContains } from '../../version/index.js';
import { NONE } from '../model/demand.js';
import type { PeerGroup, PeerProviders, ProvidedPeer } from './peer-providers.js';
import type { PeerLink, Provider } from './peer-source.js';

/** The ranges that projects are to be supplied with, by name and then by the project's index. */
export type Wants = ReadonlyMap<string, ReadonlyMap<number, ReadonlySet<string>>>;

interface Provided<L extends PeerLink> extends PeerGroup {
  readonly providers: readonly Provider<L>[];
}

/**
 * The copies that a set of answers wants its projects to be supplied with, and the peers that are not met. The one home
 * of these rules: a resolution supplies by them, and a lockfile is checked by them.
 */
export class WantedSupplies<L extends PeerLink> {
  private readonly groups: readonly Provided<L>[];
  private isThroughSupplies = false;
  private wants: Wants | null = null;

  /** O(links above copies with peers, once for each peer). */
  constructor(private readonly providers: PeerProviders<L>) {
    const { source } = providers;
    const notice = (link: L): boolean => {
      this.isThroughSupplies ||= source.supplyOf(link) !== null;
      return true;
    };
    this.groups = providers.groups().map((group) => ({
      ...group,
      providers: providers.providersAbove(group.copies, group.peer.name, notice),
    }));
  }

  /** The copies that any chain asks for as things stand. */
  asked(): Wants {
    this.wants ??= this.wantsOf(this.groups);
    return this.wants;
  }

  /**
   * The copies that chains from requirements ask for, without supplies or through supplies whose release such a chain
   * asks for. A supply that only its own dependencies ask for has no reason.
   */
  grounded(): Wants {
    if (!this.isThroughSupplies) return this.asked();
    const { source } = this.providers;
    for (let grounded: Wants = new Map(); ;) {
      const known = grounded;
      const passes = (link: L): boolean => {
        const name = source.supplyOf(link);
        return name === null || this.isAskedFor(link, name, known);
      };
      const next = this.wantsOf(
        this.groups.map((group) => ({
          ...group,
          providers: this.providers.providersAbove(group.copies, group.peer.name, passes),
        })),
      );
      if (textCount(next) === textCount(known)) return next;
      grounded = next;
    }
  }

  /** The peers that are not met, one entry for each copy and provider. */
  unmet(): readonly ProvidedPeer<L>[] {
    const { providers } = this;
    return this.groups.flatMap(({ peer, copies, providers: above }) =>
      above.every((provider) => providers.isMet(peer, provider))
        ? []
        : copies.flatMap((copy) =>
            providers
              .providersOf(copy, peer)
              .filter(({ provider }) => !providers.isMet(peer, provider)),
          ),
    );
  }

  private wantsOf(groups: readonly Provided<L>[]): Wants {
    const wanted = new Map<string, Map<number, Set<string>>>();
    for (const { peer, providers } of groups) {
      if (peer.isOptional) continue;
      const ofName = wanted.get(peer.name) ?? new Map<number, Set<string>>();
      wanted.set(peer.name, ofName);
      for (const provider of providers) {
        const project = this.suppliedProject(provider);
        if (project === null) continue;
        const texts = ofName.get(project);
        if (texts === undefined) ofName.set(project, new Set([peer.range]));
        else texts.add(peer.range);
      }
    }
    return wanted;
  }

  /** The project that has nothing of its own for the peer, or null. */
  private suppliedProject(provider: Provider<L>): number | null {
    if (provider.kind === 'none') return provider.project;
    if (provider.kind === 'project') return null;
    return this.providers.source.supplyOf(provider.link) === null ? null : ~provider.link.owner;
  }

  /** Does any of the ranges that are wanted of a supply admit its release? */
  private isAskedFor({ owner, answer }: L, name: string, wanted: Wants): boolean {
    const texts = wanted.get(name)?.get(~owner);
    if (texts === undefined || answer === NONE) return false;
    const { source } = this.providers;
    const version = source.versionOf(answer);
    return [...texts].some((text) => rangeContains(source.rangeOf(name, text), version));
  }
}

function textCount(wanted: Wants): number {
  let count = 0;
  for (const ofName of wanted.values()) for (const texts of ofName.values()) count += texts.size;
  return count;
}
