import type { RootDemand } from '../policy/search-model.js';

/** That a package must have a copy among these releases. */
export interface Fact {
  /** The same for the same fact in every case that is supposed. */
  readonly key: string;
  readonly package: number;
  readonly source:
    | { readonly kind: 'root'; readonly root: RootDemand }
    | { readonly kind: 'need'; readonly parent: Fact; readonly ranges: readonly string[] }
    /** Under strict peers: what a project must be supplied with. */
    | {
        readonly kind: 'supply';
        readonly project: string;
        readonly parent: Fact;
        readonly ranges: readonly string[];
      };
  /** The one release that this case assumes; null: it is no case. */
  readonly supposed: number | null;
  /** Shrinks while conclusions are drawn. */
  releases: readonly number[];
  readonly cuts: Cut[];
}

/** Releases taken out of a fact, and the facts that rule them out. */
export interface Cut {
  readonly removed: readonly number[];
  readonly by: readonly Fact[];
  readonly reason:
    /** They cannot stand beside the others' copy of the same package. */
    | { readonly kind: 'copies' }
    /** They need a range of a package all of whose releases cannot stand beside the others' copy. */
    | { readonly kind: 'need'; readonly name: string; readonly range: string }
    /** What is left of the fact above needs less than all of its releases did. */
    | { readonly kind: 'fewer'; readonly ranges: readonly string[] }
    /** They ask for a peer that what stands above them does not have; null: there is no such release at all. */
    | {
        readonly kind: 'peer';
        readonly name: string;
        readonly range: string;
        readonly project: string | null;
      }
    /** What is left of another fact asks for its peer in ranges that do not admit them. */
    | { readonly kind: 'asked'; readonly ranges: readonly string[] };
}
