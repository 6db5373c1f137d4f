import type { ReleasePeer } from '../../registry/index.js';
import type { Range, Version } from '../../version/index.js';

/** An owner's answer: a copy by its number, or a project by the complement of its index, and the copy that it got. */
export interface PeerLink {
  readonly owner: number;
  /** A copy, or NONE. */
  readonly answer: number;
}

/** What stands nearest above a copy for one of its peers, along one or more chains. */
export type Provider<L extends PeerLink> =
  /** An owner's own answer for the package; a supply may have none. */
  | { readonly kind: 'release'; readonly link: L }
  /** A project of the workspace that bears the peer's name. */
  | { readonly kind: 'project'; readonly version: Version | null }
  /** A project above has nothing of that name. */
  | { readonly kind: 'none'; readonly project: number };

/** A set of answers, as far as the rules on peers look at it: those of a resolution in work, or of a lockfile. */
export interface PeerSource<L extends PeerLink> {
  /** Ascending. */
  copiesWithPeers(): readonly number[];
  peersOf(copy: number): readonly ReleasePeer[];
  /** The links that a copy answers, by owner ascending. */
  askersOf(copy: number): readonly L[];
  /** What an owner itself has of a package; null: nothing, so the next one up the chain is asked. */
  providersNamed(name: string): (owner: number) => Provider<L> | null;
  /** The package that a project was supplied with by this link; null: the link is a requirement's. */
  supplyOf(link: L): string | null;
  versionOf(copy: number): Version;
  /** A range of a package under the workspace's policy. */
  rangeOf(name: string, text: string): Range;
}
