import { linksOf, strongComponents, type Components } from '../../links/index.js';
import type { PackageRecord, PackageRecords, Release } from '../../registry/index.js';

/**
 * The registry's records with packages, releases and needs numbered. Packages are numbered in the order
 * of their names, the releases of a package follow each other in ascending order, and so do the needs
 * of a release by name. So no order of the records shows in any number.
 */
export class Catalog {
  readonly names: readonly string[];
  readonly numberOf: ReadonlyMap<string, number>;
  readonly releases: readonly Release[];
  readonly packageOf: Uint32Array;
  /** Releases of package p: firstRelease[p] up to, not including, firstRelease[p + 1]. */
  readonly firstRelease: Uint32Array;
  /** Needs of release r: firstNeed[r] up to, not including, firstNeed[r + 1]. */
  readonly firstNeed: Uint32Array;
  /** The package that each need asks for. */
  readonly neededPackage: Uint32Array;
  /** Packages that releases name and of which there is no record, sorted; then nothing can be resolved. */
  readonly missing: readonly string[];
  /** Packages in cycles: a component needs only itself and components of lower number. */
  readonly components: Components;
  /** Does any release of the package need the package itself? */
  readonly needsItself: Uint8Array;
  /** Packages of which any release has peers, ascending. */
  readonly packagesWithPeers: ReadonlySet<number>;

  /** O(packages log packages + needs). */
  constructor(readonly records: PackageRecords) {
    this.names = [...records.keys()].sort();
    const numberOf = new Map(this.names.map((name, i) => [name, i]));
    this.numberOf = numberOf;
    const releases: Release[] = [];
    this.firstRelease = new Uint32Array(this.names.length + 1);
    this.names.forEach((name, i) => {
      for (const release of records.get(name)?.releases ?? []) releases.push(release);
      this.firstRelease[i + 1] = releases.length;
    });
    this.releases = releases;
    this.packageOf = new Uint32Array(releases.length);
    this.firstNeed = new Uint32Array(releases.length + 1);
    releases.forEach((release, r) => {
      this.firstNeed[r + 1] = this.firstNeed[r]! + release.needs.length;
    });
    this.neededPackage = new Uint32Array(this.firstNeed[releases.length]!);
    this.needsItself = new Uint8Array(this.names.length);
    const needed: number[][] = [];
    const missing = new Set<string>();
    const seenBy = new Int32Array(this.names.length).fill(-1);
    for (let p = 0; p < this.names.length; p++) {
      const targets: number[] = [];
      for (let r = this.firstRelease[p]!; r < this.firstRelease[p + 1]!; r++) {
        this.packageOf[r] = p;
        let at = this.firstNeed[r]!;
        for (const { name } of releases[r]!.needs) {
          const target = numberOf.get(name);
          if (target === undefined) {
            missing.add(name);
            continue;
          }
          this.neededPackage[at++] = target;
          if (target === p) this.needsItself[p] = 1;
          if (seenBy[target] === p) continue;
          seenBy[target] = p;
          targets.push(target);
        }
      }
      needed.push(targets.sort((a, b) => a - b));
    }
    const withPeers = new Set<number>();
    releases.forEach(({ peers }, release) => {
      for (const { name, isOptional } of peers) {
        withPeers.add(this.packageOf[release]!);
        if (!isOptional && !numberOf.has(name)) missing.add(name);
      }
    });
    this.packagesWithPeers = withPeers;
    this.missing = [...missing].sort();
    this.components = strongComponents(linksOf(needed));
  }

  record(name: string): PackageRecord | null {
    return this.records.get(name) ?? null;
  }

  /** Number of a release by name and version as published, or null. O(releases of the package). */
  releaseNumber(name: string, version: string): number | null {
    const p = this.numberOf.get(name);
    if (p === undefined) return null;
    for (let r = this.firstRelease[p]!; r < this.firstRelease[p + 1]!; r++) {
      if (this.releases[r]!.text === version) return r;
    }
    return null;
  }

  nameOf(release: number): string {
    return this.names[this.packageOf[release]!]!;
  }
}
