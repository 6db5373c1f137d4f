import type { TermsOfUse } from '@deep-ledger/core';

/** Values that hold for the releases in a range; the first range that has a release counts. */
export type ByRange<T> = readonly (readonly [range: string, value: T])[];

/** A package of the made-up world, told briefly; `expandPackage` makes the registry's document of it. */
export interface PackageLine {
  readonly name: string;
  readonly summary: string;
  /**
   * Stretches of releases from a day on: `2.0:3 2.1:2` means 2.0.0, 2.0.1, 2.0.2, 2.1.0, 2.1.1, spread
   * evenly up to the next stretch or the last day.
   */
  readonly stretches: readonly (readonly [from: string, releases: string])[];
  readonly until?: string;
  readonly licence?: string;
  /** In a range, `~same` stands for the release's own minor line. */
  readonly needs?: ByRange<Readonly<Record<string, string>>>;
  readonly optional?: ByRange<
    Readonly<Record<string, { readonly range: string; readonly when: readonly string[] }>>
  >;
  /** Optional peers: what it works with where that is there. */
  readonly besides?: ByRange<Readonly<Record<string, string>>>;
  readonly platform?: ByRange<Readonly<Record<string, string>>>;
  readonly targets?: readonly string[];
  readonly deprecated?: ByRange<string>;
  readonly terms?: ByRange<TermsOfUse>;
  readonly withdrawn?: readonly string[];
}
