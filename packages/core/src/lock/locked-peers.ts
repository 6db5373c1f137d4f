import { reverseLinks, type Links } from '../links/index.js';
import { type Policy, rangeFor } from '../manifest/index.js';
import {
  NONE,
  type AnsweredRequirement,
  type CopyPeer,
  type PeerLink,
  type PeerSource,
  type Provider,
  type Resolution,
} from '../resolve/index.js';
import { parseVersion, type Range, type Version } from '../version/index.js';
import { NO_COPY, type LockedCopies } from './locked-copies.js';

/** An answer in a lockfile; `supply` is the package where a project was supplied by it. */
interface LockedLink extends PeerLink {
  readonly supply: string | null;
}

/** The answers of a lockfile, as the rules on peers look at them. */
export class LockedPeers implements PeerSource<LockedLink> {
  private readonly ownersOf: Links;
  private readonly projectLinks = new Map<number, LockedLink[]>();
  private readonly projectByFolder: ReadonlyMap<string, string | null>;

  /** O(requirements). */
  constructor(
    private readonly resolution: Resolution,
    private readonly copies: LockedCopies,
    private readonly policy: Policy,
  ) {
    this.ownersOf = reverseLinks(copies.links());
    this.projectByFolder = new Map(resolution.projects.map((one) => [one.folder, one.version]));
    const add = (owner: number, answer: number, supply: string | null): void => {
      if (answer === NO_COPY) return;
      const known = this.projectLinks.get(answer);
      if (known === undefined) this.projectLinks.set(answer, [{ owner, answer, supply }]);
      else known.push({ owner, answer, supply });
    };
    resolution.projects.forEach(({ requirements, supplied }, index) => {
      for (const requirement of requirements) add(~index, copies.answerTo(requirement), null);
      for (const { name, version } of supplied)
        if (version !== null) add(~index, copies.at(name, version), name);
    });
  }

  copiesWithPeers(): readonly number[] {
    return this.copies.copies.flatMap(({ peers }, copy) => (peers.length > 0 ? [copy] : []));
  }

  peersOf(copy: number): readonly CopyPeer[] {
    return this.copies.copies[copy]!.peers;
  }

  askersOf(copy: number): readonly LockedLink[] {
    const { starts, targets } = this.ownersOf;
    const links = [...(this.projectLinks.get(copy) ?? [])];
    for (let at = starts[copy]!; at < starts[copy + 1]!; at++)
      links.push({ owner: targets[at]!, answer: copy, supply: null });
    return links.sort((a, b) => a.owner - b.owner);
  }

  providersNamed(name: string): (owner: number) => Provider<LockedLink> | null {
    return (owner) => {
      if (owner < 0) return this.projectProvider(~owner, name);
      const { requirements } = this.copies.copies[owner]!;
      return this.ofRequirements(owner, requirements, name);
    };
  }

  supplyOf({ supply }: LockedLink): string | null {
    return supply;
  }

  versionOf(copy: number): Version {
    return this.copies.versions[copy]!;
  }

  rangeOf(name: string, text: string): Range {
    return rangeFor(this.policy, name, text);
  }

  private projectProvider(index: number, name: string): Provider<LockedLink> {
    const { requirements, supplied } = this.resolution.projects[index]!;
    const own = this.ofRequirements(~index, requirements, name);
    if (own !== null) return own;
    const supply = supplied.find((one) => one.name === name);
    if (supply === undefined) return { kind: 'none', project: index };
    const copy = supply.version === null ? NO_COPY : this.copies.at(name, supply.version);
    const answer = copy === NO_COPY ? NONE : copy;
    return { kind: 'release', link: { owner: ~index, answer, supply: name } };
  }

  /** Requirements are sorted by kind, so that the first answered one is the one that counts. */
  private ofRequirements(
    owner: number,
    requirements: readonly AnsweredRequirement[],
    name: string,
  ): Provider<LockedLink> | null {
    for (const requirement of requirements) {
      if (requirement.name !== name) continue;
      if (requirement.answer.kind === 'project') {
        const version = this.projectByFolder.get(requirement.answer.folder) ?? null;
        const parsed = version === null ? null : parseVersion(version);
        return { kind: 'project', version: parsed?.ok === true ? parsed.value : null };
      }
      const copy = this.copies.answerTo(requirement);
      if (copy !== NO_COPY) return { kind: 'release', link: { owner, answer: copy, supply: null } };
    }
    return null;
  }
}
