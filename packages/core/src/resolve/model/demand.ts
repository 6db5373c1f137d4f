import type { Pool } from './usable-releases.js';

/** No release. */
export const NONE = -1;

/** A range asked of a package by an owner: a project, or a release that is a copy. */
export interface Demand {
  readonly pool: Pool;
  /** A release by its number, or a project by the complement of its index. */
  readonly owner: number;
  /** The release that answered the same demand before, or NONE. */
  held: number;
  /** The release that answers it now, or NONE. */
  answer: number;
  /** Index in the list of all demands on the package. */
  place: number;
}

export function ownerOfProject(index: number): number {
  return ~index;
}
