import type { Version } from '../version/index.js';

/** What a release requires of another package. */
export interface ReleaseNeed {
  readonly name: string;
  /** A range that can be read. */
  readonly range: string;
  /** What the release itself asks for, where a workspace answers it otherwise. */
  readonly asked?: string;
  readonly kind: 'runtime' | 'optional';
  readonly when: readonly string[];
}

export interface ReleasePeer {
  readonly name: string;
  readonly range: string;
  readonly isOptional: boolean;
}

/** Terms that must be accepted before a release is used. Two terms are the same where all three texts are. */
export interface TermsOfUse {
  readonly id: string;
  readonly title: string;
  /** Where they can be read; http or https. */
  readonly url: string;
}

/** The part of a release that cannot be read, and where it stands in the document. */
export interface ReleaseFault {
  /** JSON Pointer (RFC 6901). */
  readonly pointer: string;
  readonly message: string;
}

/** One published version of a package. */
export interface Release {
  readonly version: Version;
  /** The version as published. */
  readonly text: string;
  /** RFC 3339, UTC. */
  readonly published: string;
  /** An SPDX expression, or null where none is given. */
  readonly licence: string | null;
  readonly terms: TermsOfUse | null;
  /** Sorted by name. */
  readonly needs: readonly ReleaseNeed[];
  readonly peers: readonly ReleasePeer[];
  /** What it asks of the platform: name and range. */
  readonly platform: readonly (readonly [name: string, range: string])[];
  readonly targets: readonly string[];
  readonly deprecated: string | null;
  readonly isWithdrawn: boolean;
  readonly archive: { readonly path: string; readonly integrity: string; readonly bytes: number };
  /** Not null: the release cannot be used; what could not be read is empty. */
  readonly fault: ReleaseFault | null;
}

/** All that a registry says about one package. Releases ascend; no version is there twice. */
export interface PackageRecord {
  readonly name: string;
  readonly summary: string;
  readonly releases: readonly Release[];
}

/** Package records by name; null: the registry does not have the package. */
export type PackageRecords = ReadonlyMap<string, PackageRecord | null>;

/** A registry, as far as the core knows one. Whoever calls plugs something in. */
export interface RegistryPort {
  /**
   * The records of these packages. A name that the registry does not have gets null.
   * @throws RegistryError when the registry cannot be asked or answers nonsense
   */
  packages(names: readonly string[]): Promise<PackageRecords>;
}

/** Why a registry gave no answer, for people. */
export class RegistryError extends Error {
  constructor(
    readonly code: 'REGISTRY_DOWN' | 'REGISTRY_NONSENSE',
    message: string,
  ) {
    super(message);
    this.name = 'RegistryError';
  }
}
