import { releasesAhead } from '../alignment/index.js';
import type { DraftBase } from '../draft/index.js';
import type { Move } from '../edit/index.js';
import { REQUIREMENT_KINDS, type RequirementKind } from '../manifest/index.js';
import type { PackageRecord, Release } from '../registry/index.js';
import { ReleaseTerms, releaseTermsOf, type Unusable } from '../resolve/index.js';
import {
  compareVersions,
  isPrerelease,
  requireVersion,
  versionStep,
  type Version,
  type VersionStep,
} from '../version/index.js';
import { ownersByFolder } from '../workspace/index.js';

/** Steps that an upgrade can be, the smallest first. */
export const UPGRADE_KINDS = ['patch', 'minor', 'major'] as const;
export type UpgradeKind = (typeof UPGRADE_KINDS)[number];

/** A release that is newer than the one in use. */
export interface NewerRelease {
  readonly version: string;
  /** YYYY-MM-DD */
  readonly published: string;
  readonly step: VersionStep;
  /** Why it cannot be taken whatever else is; null: it can be tried. */
  readonly why: string | null;
}

/** The newest release of one kind of step that the workspace lets in. */
export interface Offer {
  /** Of a package or a lockstep set. */
  readonly name: string;
  readonly kind: UpgradeKind;
  readonly to: string;
  /** YYYY-MM-DD: of the members of a set the last. */
  readonly published: string;
  readonly moves: readonly Move[];
}

/** A package that is in use, or a lockstep set, whose members move together. */
export interface UpgradeRow {
  readonly name: string;
  readonly packages: readonly string[];
  readonly isSet: boolean;
  /** Does a project require it itself? */
  readonly isDirect: boolean;
  /** Folders of projects that require it themselves. */
  readonly projects: readonly string[];
  /** Who answers for those projects, sorted. */
  readonly owners: readonly string[];
  /** As what projects require it themselves. */
  readonly kinds: readonly RequirementKind[];
  /** The newest release in use, from which it goes up. */
  readonly from: string;
  /** Other releases in use. */
  readonly others: readonly string[];
  /** YYYY-MM-DD */
  readonly since: string | null;
  /** Of a set those of its first member. */
  readonly newer: readonly NewerRelease[];
  /** At most one of each kind, the smallest step first; none where nothing newer is let in. */
  readonly offers: readonly Offer[];
  readonly pin: string | null;
  readonly isExcepted: boolean;
  readonly deprecated: string | null;
}

/**
 * Every package of the lockfile of which the registry has a newer release, sorted by name, the members of a set as one.
 * @param olderThanDays days that a release must be old to be offered, beside what the policy says
 * O(requirements of all projects + copies + releases of their packages).
 */
export function upgradeRows(base: DraftBase, olderThanDays = 0): readonly UpgradeRow[] {
  const { workspace, lock } = base;
  if (workspace === null || lock?.resolution == null) return [];
  const versions = new Map<string, string[]>();
  for (const { name, version } of lock.resolution.copies)
    versions.set(name, [...(versions.get(name) ?? []), version]);
  const finder = new OfferFinder(base, olderThanDays);
  const inSets = new Set<string>();
  const units: (readonly [name: string, packages: readonly string[]])[] = [];
  for (const set of workspace.shared.lockstep) {
    const members = set.packages.filter((name) => versions.has(name));
    if (members.length < 2) continue;
    for (const name of members) inSets.add(name);
    units.push([set.name, members]);
  }
  for (const name of versions.keys()) if (!inSets.has(name)) units.push([name, [name]]);
  return units
    .flatMap(([name, packages]) => finder.row(name, packages, versions) ?? [])
    .sort((a, b) => (a.name < b.name ? -1 : 1));
}

class OfferFinder {
  private readonly terms: ReleaseTerms;
  private readonly requiring = new Map<string, Set<string>>();
  private readonly kinds = new Map<string, Set<RequirementKind>>();
  /** By folder of a project. */
  private readonly owners: ReadonlyMap<string, readonly string[]>;

  constructor(
    private readonly base: DraftBase,
    private readonly olderThanDays: number,
  ) {
    const workspace = base.workspace!;
    this.terms = new ReleaseTerms(releaseTermsOf(workspace), base.today);
    const ownersOf = ownersByFolder(workspace.owners);
    this.owners = new Map(workspace.projects.map(({ folder }) => [folder, ownersOf(folder)]));
    for (const { folder, requirements } of workspace.projects)
      for (const { name, kind, meaning } of requirements) {
        if (meaning.kind !== 'range') continue;
        this.requiring.set(name, (this.requiring.get(name) ?? new Set()).add(folder));
        this.kinds.set(name, (this.kinds.get(name) ?? new Set()).add(kind));
      }
  }

  /** Null: nothing is newer, as of most packages. */
  row(
    name: string,
    packages: readonly string[],
    versions: ReadonlyMap<string, readonly string[]>,
  ): UpgradeRow | null {
    const { workspace } = this.base;
    const first = packages[0]!;
    const record = this.record(first);
    const [from, ...others] = newestFirst(versions.get(first)!);
    const release = record?.releases.find(({ text }) => text === from);
    const newer = this.newer(record, release?.version ?? requireVersion(from!));
    if (newer.length === 0) return null;
    const projects = new Set(packages.flatMap((one) => [...(this.requiring.get(one) ?? [])]));
    return {
      name,
      packages,
      isSet: packages.length > 1,
      isDirect: projects.size > 0,
      projects: [...projects].sort(),
      owners: [...new Set([...projects].flatMap((folder) => this.owners.get(folder)!))].sort(),
      kinds: REQUIREMENT_KINDS.filter((kind) =>
        packages.some((one) => this.kinds.get(one)?.has(kind)),
      ),
      from: from!,
      others,
      since: release?.published.slice(0, 10) ?? null,
      newer,
      offers: this.offers(
        name,
        packages.map((one) => [one, newestFirst(versions.get(one)!)[0]!] as const),
      ),
      pin: workspace!.shared.pins.get(first)?.text ?? null,
      isExcepted: workspace!.exceptions.some((line) => packages.includes(line.package)),
      deprecated: release?.deprecated ?? null,
    };
  }

  private record(name: string): PackageRecord | null {
    return this.base.records.get(name) ?? null;
  }

  private newer(record: PackageRecord | null, at: Version): readonly NewerRelease[] {
    return (record?.releases ?? [])
      .filter(({ version }) => compareVersions(version, at) > 0 && !isPrerelease(version))
      .map((release) => ({
        version: release.text,
        published: release.published.slice(0, 10),
        step: versionStep(at, release.version),
        why: this.whyNot(record!.name, release),
      }));
  }

  private whyNot(name: string, release: Release): string | null {
    const [reason] = this.terms.reasons(name, release);
    if (reason !== undefined) return unusableWords(reason);
    if (release.deprecated !== null) return `deprecated: ${release.deprecated}`;
    return this.isOldEnough(release) ? null : `younger than ${this.olderThanDays} days`;
  }

  private isOldEnough({ published }: Release): boolean {
    const days = (Date.parse(this.base.today) - Date.parse(published.slice(0, 10))) / DAY_MS;
    return days >= this.olderThanDays;
  }

  private offers(
    name: string,
    members: readonly (readonly [name: string, from: string])[],
  ): readonly Offer[] {
    const ahead = members.map(([one, from]) =>
      releasesAhead(this.record(one), from, this.terms).filter((release) =>
        this.isOldEnough(release),
      ),
    );
    return UPGRADE_KINDS.flatMap((kind): Offer[] => {
      // The members of a set have one range, so they go to a release that all have.
      const target = ahead[0]!.findLast(
        ({ text, version }) =>
          versionStep(requireVersion(members[0]![1]), version) === kind &&
          ahead.every((releases) => releases.some((one) => one.text === text)),
      );
      if (target === undefined) return [];
      const published = ahead.flatMap((releases) =>
        releases.find(({ text }) => text === target.text)!.published.slice(0, 10),
      );
      return [
        {
          name,
          kind,
          to: target.text,
          published: published.sort().at(-1)!,
          moves: members.map(([one, from]) => ({ package: one, from, to: target.text })),
        },
      ];
    });
  }
}

const DAY_MS = 86_400_000;

function newestFirst(versions: readonly string[]): readonly string[] {
  return [...versions].sort((a, b) => compareVersions(requireVersion(b), requireVersion(a)));
}

/** Why a release cannot be taken, as a part of a sentence. */
export function unusableWords(reason: Unusable): string {
  switch (reason.kind) {
    case 'unreadable':
      return `its document cannot be read at ${reason.pointer}`;
    case 'withdrawn':
      return 'withdrawn';
    case 'not-yet-published':
      return `published on ${reason.published}`;
    case 'too-new':
      return `younger than the ${reason.minimumAgeDays} days of the policy`;
    case 'pinned-elsewhere':
      return `pinned to ${reason.pin}`;
    case 'platform':
      return `asks for ${reason.name} ${reason.asks}; the workspace offers ${reason.offered ?? 'none'}`;
    case 'need-unanswered':
      return `needs ${reason.name} ${reason.range}, which nothing answers`;
    case 'not-chosen':
      return 'not among those that are looked at';
  }
}
