import type { RequirementKind } from '../manifest/index.js';
import type { Span } from '../text/index.js';
import type { Query } from './query.js';
import type { RegistryShape } from './registry-shape.js';
import type { Spelling } from './spelling.js';
import type { Syntax } from './syntax/index.js';

/** Where requirements of one kind stand in a foreign manifest. */
export interface RequirementShape {
  readonly kind: RequirementKind;
  /** Tables whose keys are names and whose values are ranges, or, where `package` is given, items that are requirements. */
  readonly at: Query;
  /** Within an item: what, joined, is the package's name. Empty: `at` leads to tables. */
  readonly package: readonly Query[];
  readonly join: string;
  /** Within an item, or within a value that is a table. */
  readonly range: Query | null;
  readonly when: Query | null;
}

/** How one sort of foreign manifests is laid out. */
export interface ManifestShape {
  /** Patterns of paths; in order, one that begins with `!` takes paths back. */
  readonly files: readonly string[];
  readonly syntax: Syntax;
  /** A project's folder is this many levels above its manifests. */
  readonly levels: number;
  readonly name: Query | null;
  readonly version: Query | null;
  readonly ships: { readonly at: Query; readonly library: readonly string[] } | null;
  readonly requirements: readonly RequirementShape[];
  readonly spelling: Spelling;
  /** A package may be there several times; else that is a problem. */
  readonly mayRepeat?: boolean;
  /** In the file of shapes. */
  readonly span: Span;
}

/** Where agreed versions stand in a foreign file. */
export interface SharedShape {
  readonly file: string;
  readonly syntax: Syntax;
  readonly at: Query;
  readonly spelling: Spelling;
  readonly span: Span;
}

/** Where a file says which versions are installed today by other means. */
export interface AdoptShape {
  readonly file: string;
  readonly syntax: Syntax;
  /** Items that name a package and a version, or, without `package`, tables whose keys are names. */
  readonly items: Query;
  readonly package: Query | null;
  /** Null: the value itself. */
  readonly version: Query | null;
  readonly span: Span;
}

/** What `ledger.shapes.toml` says. */
export interface Shapes {
  readonly manifests: readonly ManifestShape[];
  readonly shared: SharedShape | null;
  readonly adopt: readonly AdoptShape[];
  /** Registries that do not speak as ours do, by name. */
  readonly registries: ReadonlyMap<string, RegistryShape>;
  /** Requirements that are no ranges are errors. */
  readonly isStrict: boolean;
}

export const NO_SHAPES: Shapes = {
  manifests: [],
  shared: null,
  adopt: [],
  registries: new Map(),
  isStrict: false,
};
