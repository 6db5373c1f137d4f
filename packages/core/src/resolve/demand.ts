import type { Range } from '../version/index.js';

/** A range asked of a package, by a project or by a release. */
export interface Demand {
  /** Folder of the project, or name and version of the copy, with the kind: unique for one package. */
  readonly owner: string;
  readonly range: Range;
  readonly targets: readonly string[];
  readonly isOptional: boolean;
  /** The version that answered the same demand before, or null. */
  readonly held: string | null;
}
