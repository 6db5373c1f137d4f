import type { RequirementKind } from '../../manifest/index.js';
import type { ReleaseNeed } from '../../registry/index.js';
import { isSameRange, parseVersion, rangeContains } from '../../version/index.js';
import type { Catalog } from './catalog.js';
import { NONE } from './demand.js';
import type { PolicyRanges } from './policy-ranges.js';
import type { AnsweredRequirement, Copy, ProjectAnswers, Resolution } from './resolution.js';
import type { Pool } from './usable-releases.js';

/** What the lockfile before answered, for demands that ask for the same as then. */
export interface Held {
  /** The release of the pool that answered this requirement of a project, or NONE. */
  ofProject(folder: string, kind: RequirementKind, name: string, text: string, pool: Pool): number;
  /** The release of the pool that answered this need of a release, or NONE. */
  ofNeed(release: number, need: ReleaseNeed, pool: Pool): number;
  /** The release that was supplied to a project for the same ranges, or NONE. */
  ofSupply(folder: string, name: string, texts: readonly string[]): number;
  /** Was the release in the lockfile? */
  isHeld(release: number): boolean;
}

/** Another release for what a copy answers, as far as ranges admit it. */
export interface RePick {
  readonly name: string;
  readonly from: string;
  readonly to: string;
}

export class HeldAnswers implements Held {
  private readonly copies = new Map<number, Copy>();
  private readonly projects = new Map<string, ProjectAnswers>();
  private readonly isFree: (name: string) => boolean;
  /** For each package the release that is picked in place of one that answered before. */
  private picks: ReadonlyMap<string, ReadonlyMap<string, string>> = new Map();

  constructor(
    private readonly catalog: Catalog,
    private readonly ranges: PolicyRanges,
    before: Resolution | null,
    refresh: 'all' | ReadonlySet<string>,
  ) {
    this.isFree = (name) => refresh === 'all' || refresh.has(name);
    if (before === null || refresh === 'all') return;
    for (const project of before.projects) this.projects.set(project.folder, project);
    for (const copy of before.copies) {
      const release = catalog.releaseNumber(copy.name, copy.version);
      if (release !== null) this.copies.set(release, copy);
    }
  }

  /**
   * From now on another copy answers what a copy of before answered. This replaces earlier picks.
   * @returns the packages whose answers may be held otherwise now
   */
  pick(rePicks: readonly RePick[]): ReadonlySet<string> {
    const old = this.picks;
    const picks = new Map<string, Map<string, string>>();
    for (const { name, from, to } of rePicks)
      picks.set(name, (picks.get(name) ?? new Map<string, string>()).set(from, to));
    this.picks = picks;
    return new Set(
      [...old.keys(), ...picks.keys()].filter(
        (name) => !isSamePick(old.get(name), picks.get(name)),
      ),
    );
  }

  ofProject(folder: string, kind: RequirementKind, name: string, text: string, pool: Pool): number {
    return this.held(this.projects.get(folder)?.requirements, kind, name, text, pool);
  }

  ofNeed(release: number, { kind, name, range }: ReleaseNeed, pool: Pool): number {
    return this.held(this.copies.get(release)?.requirements, kind, name, range, pool);
  }

  ofSupply(folder: string, name: string, texts: readonly string[]): number {
    const supply = this.projects.get(folder)?.supplied.find((one) => one.name === name);
    if (supply === undefined || supply.version === null || this.isFree(name)) return NONE;
    if (supply.ranges.join('\n') !== texts.join('\n')) return NONE;
    return this.catalog.releaseNumber(name, supply.version) ?? NONE;
  }

  isHeld(release: number): boolean {
    return this.copies.has(release) && !this.isFree(this.catalog.nameOf(release));
  }

  private held(
    requirements: readonly AnsweredRequirement[] | undefined,
    kind: RequirementKind,
    name: string,
    text: string,
    pool: Pool,
  ): number {
    if (requirements === undefined || this.isFree(name)) return NONE;
    const before = requirements.find((one) => one.name === name && one.kind === kind);
    if (before === undefined || before.range === null || before.answer.kind !== 'copy') return NONE;
    const { version } = before.answer;
    const picked = this.picks.get(name)?.get(version);
    // A requirement that has come to admit it takes it as well.
    if (picked !== undefined && this.admits(name, text, picked)) return this.inPool(pool, picked);
    const isSame =
      before.range === text ||
      isSameRange(this.ranges.of(name, before.range), this.ranges.of(name, text));
    return isSame ? this.inPool(pool, version) : NONE;
  }

  private admits(name: string, text: string, version: string): boolean {
    const parsed = parseVersion(version, 'dotted');
    return parsed.ok && rangeContains(this.ranges.of(name, text), parsed.value);
  }

  private inPool({ releases }: Pool, version: string): number {
    return releases.find((release) => this.catalog.releases[release]!.text === version) ?? NONE;
  }
}

function isSamePick(
  a: ReadonlyMap<string, string> | undefined,
  b: ReadonlyMap<string, string> | undefined,
): boolean {
  return a?.size === b?.size && [...(a ?? [])].every(([from, to]) => b?.get(from) === to);
}
