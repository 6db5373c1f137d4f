/** What beside requirements an explanation rests on: settings that would open it if they said otherwise. */
export interface Cites {
  /** Packages whose policy on copies it names. */
  readonly copies: readonly string[];
  /** Packages whose pin it names. */
  readonly pins: readonly string[];
  /** Packages whose releases are too young. */
  readonly ages: readonly string[];
  /** What releases ask of the platform: package and name. */
  readonly platforms: readonly { readonly package: string; readonly name: string }[];
  /** Does it rest on peers having to be met? */
  readonly peers: boolean;
}

/** Collects what is cited while an explanation is put into words. */
export class Citing {
  readonly copies = new Set<string>();
  readonly pins = new Set<string>();
  readonly ages = new Set<string>();
  readonly platforms = new Map<string, { readonly package: string; readonly name: string }>();
  peers = false;

  cites(): Cites {
    return {
      copies: [...this.copies].sort(),
      pins: [...this.pins].sort(),
      ages: [...this.ages].sort(),
      platforms: [...this.platforms.values()],
      peers: this.peers,
    };
  }
}
