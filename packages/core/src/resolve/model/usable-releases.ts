import type { Release } from '../../registry/index.js';
import { globMatcher } from '../../text/index.js';
import { compareVersions, isPrerelease, rangeContains, type Range } from '../../version/index.js';
import { matchingTargets } from '../../workspace/index.js';
import type { Catalog } from './catalog.js';
import type { PolicyRanges } from './policy-ranges.js';
import { ReleaseTerms, type Terms, type Unusable } from './release-terms.js';

/** The releases of one package that a demand admits: number and members of an interned set. */
export interface Pool {
  readonly id: number;
  readonly package: number;
  /** Ascending, usable ones alone. */
  readonly releases: readonly number[];
  /** Left of another pool by what the policy on copies or peers allows. */
  readonly isNarrowed?: boolean;
}

interface CountedPool extends Pool {
  releases: readonly number[];
  /** How many of the releases are not struck out, while that is being found out. */
  alive: number;
}

const EVERY_TARGET: readonly string[] = ['*'];
const NO_POOL = -1;
const NO_RELEASE = -1;

/**
 * Which releases can be used at all under policy, platform, pins and the day, and which of them a
 * demand admits. A release is also out when something it needs has no usable release in range; that
 * is carried on until nothing changes, which ends because releases only ever go out.
 */
export class UsableReleases {
  readonly ranges: PolicyRanges;
  private readonly own: ReleaseTerms;
  private readonly usable: Uint8Array;
  /** Releases that can be used for what the projects require that a pin leaves out, and for nothing else. */
  private readonly leftOutAlone: Uint8Array;
  private readonly poolsOfPackage: (Map<string, number> | undefined)[] = [];
  private readonly pools: CountedPool[] = [];
  private readonly poolOfNeed: Int32Array;
  private readonly targetsOfWhen = new Map<string, readonly string[]>();
  private readonly suits = new Map<string, boolean>();
  private everyTarget: readonly string[] | null = null;

  /** O(needs x log releases of a package). */
  constructor(
    readonly catalog: Catalog,
    private readonly terms: Terms,
    asOf: string,
  ) {
    this.own = new ReleaseTerms(terms, asOf);
    this.ranges = this.own.ranges;
    const { releases } = catalog;
    this.usable = new Uint8Array(releases.length);
    this.leftOutAlone = new Uint8Array(releases.length);
    releases.forEach((release, r) => {
      const name = catalog.nameOf(r);
      if (this.own.reasons(name, release).length === 0) this.usable[r] = 1;
      if (this.own.pinnedElsewhere(name, release, null).length > 0) this.leftOutAlone[r] = 1;
    });
    this.poolOfNeed = new Int32Array(catalog.neededPackage.length).fill(NO_POOL);
    this.strikeOut();
  }

  isUsable(release: number): boolean {
    return this.usable[release] === 1;
  }

  /** Does a pin leave out what a project requires itself of a package? */
  isLeftOut(folder: string, name: string): boolean {
    const { pins } = this.terms;
    return pins.versionFor(name, null) !== null && pins.versionFor(name, folder) === null;
  }

  /**
   * Why a release cannot be used, each reason that it has by itself; else the need that nothing answers.
   * @param isLeftOut by a pin, what it is to answer
   */
  whyNot(release: number, isLeftOut = false): readonly Unusable[] {
    if (this.usable[release] === 1) {
      if (isLeftOut || this.leftOutAlone[release] === 0) return [];
      const { releases } = this.catalog;
      return this.own.pinnedElsewhere(this.catalog.nameOf(release), releases[release]!, null);
    }
    const own = this.own.reasons(this.catalog.nameOf(release), this.catalog.releases[release]!);
    if (own.length > 0) return own;
    // Which need was found open first depended on the order of the walk; what is left at its end does not.
    const open = this.catalog.releases[release]!.needs.findIndex(
      ({ kind }, i) => kind === 'runtime' && this.isOpen(this.catalog.firstNeed[release]! + i),
    );
    const { name, range } = this.catalog.releases[release]!.needs[open]!;
    return [{ kind: 'need-unanswered', name, range }];
  }

  private isOpen(need: number): boolean {
    const pool = this.poolOfNeed[need]!;
    return pool !== NO_POOL && this.pools[pool]!.alive === 0;
  }

  /** The pool that a need of a release asks for; null: for none of the workspace's targets. */
  poolOf(need: number): Pool | null {
    const pool = this.poolOfNeed[need]!;
    return pool === NO_POOL ? null : this.pools[pool]!;
  }

  /**
   * The pool of a requirement.
   * @param targets not empty
   * @param isLeftOut by a pin
   */
  poolFor(
    packageNumber: number,
    text: string,
    targets: readonly string[],
    isOptional: boolean,
    isLeftOut = false,
  ): Pool {
    return this.pools[this.intern(packageNumber, text, targets, isOptional, isLeftOut)]!;
  }

  /**
   * The pool of the releases that meet as many of these ranges as any one release meets, for every target.
   * @param staying a release that stays, where it meets any: then the pool is of those that meet all that it meets
   */
  poolWithin(packageNumber: number, texts: readonly string[], staying = NO_RELEASE): Pool {
    const all = this.targetsOf([]);
    const pools = texts.map((text) => this.poolFor(packageNumber, text, all, false));
    const counts = new Map<number, number>();
    for (const { releases } of pools)
      for (const release of releases) counts.set(release, (counts.get(release) ?? 0) + 1);
    const ofStaying = pools.filter(({ releases }) => releases.includes(staying));
    const most = Math.max(0, ...counts.values());
    const releases =
      ofStaying.length > 0
        ? ofStaying[0]!.releases.filter((one) =>
            ofStaying.every((pool) => pool.releases.includes(one)),
          )
        : [...counts.keys()].filter((one) => counts.get(one) === most).sort((a, b) => a - b);
    const same = pools.find(
      (pool) =>
        pool.releases.length === releases.length &&
        pool.releases.every((one, i) => one === releases[i]),
    );
    if (same !== undefined) return same;
    const known = this.poolsOfPackage[packageNumber]!;
    const key = `${releases.join(' ')}\n&`;
    let id = known.get(key);
    if (id === undefined) {
      id = this.pools.length;
      this.pools.push({ id, package: packageNumber, releases, alive: releases.length });
      known.set(key, id);
    }
    return this.pools[id]!;
  }

  /**
   * All usable releases of a package for every target, those that no range admits included.
   * @param isLeftOut by a pin, what they are to answer
   */
  everyRelease(packageNumber: number, isLeftOut = false): Pool {
    const { firstRelease, releases } = this.catalog;
    const all: number[] = [];
    for (let r = firstRelease[packageNumber]!; r < firstRelease[packageNumber + 1]!; r++) {
      if (!this.isUsable(r) || (!isLeftOut && this.leftOutAlone[r] === 1)) continue;
      if (this.suitsTargets(releases[r]!.targets, this.targetsOf([]), false)) all.push(r);
    }
    return { id: NO_POOL, package: packageNumber, releases: all };
  }

  /**
   * The workspace's targets for which a release's requirement must be answered.
   * @param ofOwner the targets of the release that requires
   */
  targetsOf(when: readonly string[], ofOwner: readonly string[] = EVERY_TARGET): readonly string[] {
    // Nearly all requirements are for every target; there are very many of them.
    if (when.length === 0 && ofOwner.length === 1 && ofOwner[0] === '*')
      return (this.everyTarget ??= matchingTargets(this.terms.targets, [], EVERY_TARGET));
    const key = ofOwner.includes('*') ? when.join(' ') : `${when.join(' ')}\n${ofOwner.join(' ')}`;
    let targets = this.targetsOfWhen.get(key);
    if (targets === undefined) {
      targets = matchingTargets(this.terms.targets, when, ofOwner);
      // All of them are one list, by which pools of requirements for every target are known.
      const all = this.targetsOf([]);
      if (targets.length === all.length) targets = all;
      this.targetsOfWhen.set(key, targets);
    }
    return targets;
  }

  private intern(
    packageNumber: number,
    text: string,
    targets: readonly string[],
    isOptional: boolean,
    isLeftOut = false,
  ): number {
    const known = (this.poolsOfPackage[packageNumber] ??= new Map<string, number>());
    const isPlain = !isOptional && !isLeftOut && targets === this.targetsOf([]);
    const key = isPlain
      ? text
      : `${text}\n${String(isOptional)} ${String(isLeftOut)} ${targets.join(' ')}`;
    let id = known.get(key);
    if (id === undefined) {
      id = this.pools.length;
      const releases = this.admitted(packageNumber, text, targets, isOptional, isLeftOut);
      this.pools.push({ id, package: packageNumber, releases, alive: releases.length });
      known.set(key, id);
    }
    return id;
  }

  private admitted(
    packageNumber: number,
    text: string,
    targets: readonly string[],
    isOptional: boolean,
    isLeftOut: boolean,
  ): number[] {
    const { catalog } = this;
    const range = this.ranges.of(catalog.names[packageNumber]!, text);
    const from = catalog.firstRelease[packageNumber]!;
    const end = catalog.firstRelease[packageNumber + 1]!;
    const admitted: number[] = [];
    let interval = 0;
    for (let r = from; r < end; r++) {
      const release = catalog.releases[r]!;
      if (isPrerelease(release.version)) {
        if (!rangeContains(range, release.version)) continue;
      } else {
        interval = intervalAt(range, interval, release);
        if (interval >= range.releases.length) {
          if (range.prereleases.length === 0) break;
          continue;
        }
        if (compareVersions(release.version, range.releases[interval]!.from) < 0) continue;
      }
      if (this.usable[r] === 0 || (!isLeftOut && this.leftOutAlone[r] === 1)) continue;
      if (this.suitsTargets(release.targets, targets, isOptional)) admitted.push(r);
    }
    return admitted;
  }

  private suitsTargets(
    patterns: readonly string[],
    targets: readonly string[],
    isOptional: boolean,
  ): boolean {
    if (patterns.length === 1 && patterns[0] === '*') return true;
    const key = `${String(isOptional)} ${targets.join(' ')}\n${patterns.join(' ')}`;
    let suits = this.suits.get(key);
    if (suits === undefined) {
      const isMatch = globMatcher(patterns);
      suits =
        patterns.includes('*') || (isOptional ? targets.some(isMatch) : targets.every(isMatch));
      this.suits.set(key, suits);
    }
    return suits;
  }

  private strikeOut(): void {
    const { catalog } = this;
    catalog.releases.forEach(({ needs, targets: ofOwner }, r) => {
      const first = catalog.firstNeed[r]!;
      needs.forEach(({ kind, range, when }, i) => {
        const targets = this.targetsOf(when, ofOwner);
        if (targets.length === 0) return;
        const need = first + i;
        const target = catalog.neededPackage[need]!;
        this.poolOfNeed[need] = this.intern(target, range, targets, kind === 'optional');
      });
    });
    const { starts, askers } = this.askersOfPools();
    const emptied: number[] = [];
    this.pools.forEach(({ alive }, pool) => {
      if (alive === 0) emptied.push(pool);
    });
    const struck = new Set<number>();
    for (let pool = emptied.pop(); pool !== undefined; pool = emptied.pop()) {
      for (let at = starts[pool]!; at < starts[pool + 1]!; at++) {
        const release = askers[at]!;
        if (this.usable[release] === 0) continue;
        this.usable[release] = 0;
        struck.add(release);
        for (const id of this.poolsOfPackage[catalog.packageOf[release]!]?.values() ?? []) {
          const one = this.pools[id]!;
          if (!one.releases.includes(release)) continue;
          one.alive -= 1;
          if (one.alive === 0) emptied.push(id);
        }
      }
    }
    const changed = new Set([...struck].map((release) => catalog.packageOf[release]!));
    for (const packageNumber of changed) {
      for (const id of this.poolsOfPackage[packageNumber]?.values() ?? []) {
        const one = this.pools[id]!;
        one.releases = one.releases.filter((release) => this.usable[release] === 1);
      }
    }
  }

  /** The releases whose needs, those that are not optional, ask for each pool. */
  private askersOfPools(): { readonly starts: Uint32Array; readonly askers: Uint32Array } {
    const { catalog } = this;
    const starts = new Uint32Array(this.pools.length + 1);
    const each = (take: (pool: number, release: number) => void): void => {
      catalog.releases.forEach(({ needs }, release) => {
        const first = catalog.firstNeed[release]!;
        for (let i = 0; i < needs.length; i++) {
          const pool = this.poolOfNeed[first + i]!;
          if (pool !== NO_POOL && needs[i]!.kind === 'runtime') take(pool, release);
        }
      });
    };
    each((pool) => (starts[pool + 1]! += 1));
    for (let i = 0; i < this.pools.length; i++) starts[i + 1]! += starts[i]!;
    const next = starts.slice();
    const askers = new Uint32Array(starts[this.pools.length]!);
    each((pool, release) => (askers[next[pool]!++] = release));
    return { starts, askers };
  }
}

/** The first interval, from one on, that does not end before a release. */
function intervalAt(range: Range, from: number, { version }: Release): number {
  let interval = from;
  while (interval < range.releases.length) {
    const { below } = range.releases[interval]!;
    if (below === null || compareVersions(version, below) < 0) break;
    interval += 1;
  }
  return interval;
}
