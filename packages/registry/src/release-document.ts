/** A package's document as the registry serves it; `docs/registry.md` describes it. */
export interface PackageDocument {
  readonly name: string;
  readonly summary: string;
  readonly releases: readonly ReleaseDocument[];
}

export interface ReleaseDocument {
  readonly version: string;
  readonly published: string;
  readonly licence: string | null;
  readonly needs: Readonly<Record<string, string>>;
  readonly optional: Readonly<
    Record<string, { readonly range: string; readonly when: readonly string[] }>
  >;
  readonly peers: Readonly<Record<string, { readonly range: string; readonly optional: boolean }>>;
  readonly platform: Readonly<Record<string, string>>;
  readonly targets: readonly string[];
  readonly deprecated: string | null;
  readonly withdrawn: boolean;
  /** What must be accepted before it is used. */
  readonly terms?: { readonly id: string; readonly title: string; readonly url: string };
  /** What it says of itself, in Markdown. */
  readonly notes?: string;
  readonly archive: { readonly path: string; readonly integrity: string; readonly bytes: number };
}
