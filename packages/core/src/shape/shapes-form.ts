import type { RequirementKind } from '../manifest/index.js';
import type { SyntaxName } from './read-shapes.js';
import type { Spelling } from './spelling.js';

/** What a file of shapes says, as the texts that stand in it. `printShapes` writes them down. */
export interface ShapesForm {
  readonly manifests: readonly ManifestForm[];
  readonly shared: SharedForm | null;
  readonly adopt: readonly AdoptForm[];
  readonly registries: readonly RegistryForm[];
}

/** One `[[manifest]]`. */
export interface ManifestForm {
  readonly files: readonly string[];
  readonly syntax: SyntaxName;
  /** For lines alone. */
  readonly pattern: string | null;
  /** From a file's folder up to its project's. */
  readonly levels: number;
  readonly name: string | null;
  readonly version: string | null;
  readonly ships: { readonly at: string; readonly library: readonly string[] } | null;
  /** None for lines: what they require stands in the pattern. */
  readonly requirements: readonly RequirementForm[];
  /** Of the requirements in lines. */
  readonly kind: RequirementKind;
  readonly spelling: Spelling;
}

/** One `[[manifest.requirements]]`. */
export interface RequirementForm {
  readonly at: string;
  /** Queries whose values, joined, are the name; none: keys are names. */
  readonly package: readonly string[];
  readonly join: string;
  readonly range: string | null;
  readonly when: string | null;
  readonly kind: RequirementKind;
}

export interface SharedForm {
  readonly file: string;
  readonly syntax: Exclude<SyntaxName, 'lines'>;
  readonly at: string;
}

/** One `[[adopt]]`. */
export interface AdoptForm {
  readonly file: string;
  readonly syntax: Exclude<SyntaxName, 'lines'>;
  readonly items: string;
  /** Null: keys are names. */
  readonly package: string | null;
  /** Null: the value itself. */
  readonly version: string | null;
}

/** One `[registry.NAME]`. Empty fields are left out. */
export interface RegistryForm {
  readonly registry: string;
  readonly document: string;
  readonly releases: string;
  readonly version: string;
  readonly published: string;
  readonly licence: string;
  readonly needs: string;
  readonly optional: string;
  readonly deprecated: string;
  readonly url: string;
  readonly integrity: string;
}
