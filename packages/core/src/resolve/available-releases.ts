import { policyOf } from '../manifest/index.js';
import type { PackageRecord, PackageRecords, Release } from '../registry/index.js';
import { globMatcher } from '../text/index.js';
import { rangeContains, type Range } from '../version/index.js';
import { matchingTargets, type Workspace } from '../workspace/index.js';
import type { RangeCache } from './range-cache.js';

/** Why a release cannot be used, whatever else is chosen. */
export type Unusable =
  | { readonly kind: 'withdrawn' }
  | { readonly kind: 'not-yet-published'; readonly published: string }
  | { readonly kind: 'too-new'; readonly published: string; readonly minimumAgeDays: number }
  | { readonly kind: 'pinned-elsewhere'; readonly pin: string }
  | {
      readonly kind: 'platform';
      readonly name: string;
      readonly asks: string;
      readonly offered: string | null;
    }
  | { readonly kind: 'need-unanswered'; readonly name: string; readonly range: string };

const DAY_MS = 86_400_000;

/**
 * Which releases of which packages can be used at all under policy, platform, pins and the day. A
 * release is also out when something it needs has no usable release in range; that is carried on until
 * nothing changes, which ends because releases only ever go out.
 */
export class AvailableReleases {
  private readonly reasons = new Map<Release, Unusable>();

  constructor(
    private readonly workspace: Workspace,
    private readonly records: PackageRecords,
    private readonly ranges: RangeCache,
    private readonly asOf: string,
  ) {
    for (const record of records.values()) {
      for (const release of record?.releases ?? []) {
        const reason = this.ownReason(record!.name, release);
        if (reason !== null) this.reasons.set(release, reason);
      }
    }
    this.carryOn();
  }

  record(name: string): PackageRecord | null {
    return this.records.get(name) ?? null;
  }

  reason(release: Release): Unusable | null {
    return this.reasons.get(release) ?? null;
  }

  /** The usable releases of a package in a range, for at least one (optional) or all of the targets; ascending. */
  within(
    name: string,
    range: Range,
    targets: readonly string[],
    isOptional: boolean,
  ): readonly Release[] {
    return (this.record(name)?.releases ?? []).filter(
      (release) =>
        !this.reasons.has(release) &&
        rangeContains(range, release.version) &&
        suitsTargets(release, targets, isOptional),
    );
  }

  /** The workspace's targets for which a release's requirement must be answered. */
  targetsOf(when: readonly string[]): readonly string[] {
    return matchingTargets(this.workspace.targets, when);
  }

  private ownReason(name: string, release: Release): Unusable | null {
    if (release.isWithdrawn) return { kind: 'withdrawn' };
    const published = release.published.slice(0, 10);
    if (published > this.asOf) return { kind: 'not-yet-published', published };
    const { minimumAgeDays } = policyOf(this.workspace.policy, name);
    const ageDays = (Date.parse(this.asOf) - Date.parse(published)) / DAY_MS;
    if (ageDays < minimumAgeDays) return { kind: 'too-new', published, minimumAgeDays };
    const pin = this.workspace.shared.pins.get(name)?.text;
    if (pin !== undefined && pin !== release.text) return { kind: 'pinned-elsewhere', pin };
    for (const [asked, range] of release.platform) {
      const offered = this.workspace.platform.get(asked);
      if (offered === undefined)
        return { kind: 'platform', name: asked, asks: range, offered: null };
      if (!rangeContains(this.ranges.ofPlatform(range), offered)) {
        const text = `${offered.major}.${offered.minor}.${offered.patch}`;
        return { kind: 'platform', name: asked, asks: range, offered: text };
      }
    }
    return null;
  }

  private carryOn(): void {
    const struck = new Set<Release>();
    for (let isChanged = true; isChanged;) {
      isChanged = false;
      for (const record of this.records.values()) {
        for (const release of record?.releases ?? []) {
          if (this.reasons.has(release)) continue;
          const open = this.openNeed(release);
          if (open === null) continue;
          this.reasons.set(release, open);
          struck.add(release);
          isChanged = true;
        }
      }
    }
    // Which need was found open first hung on the order of the records; at the end it does not.
    for (const release of struck) this.reasons.set(release, this.openNeed(release)!);
  }

  /** The first need, by name, that no usable release answers. */
  private openNeed(release: Release): Unusable | null {
    for (const { kind, name, range, when } of release.needs) {
      if (kind === 'optional') continue;
      const targets = this.targetsOf(when);
      if (targets.length === 0) continue;
      if (this.within(name, this.ranges.of(name, range), targets, false).length === 0) {
        return { kind: 'need-unanswered', name, range };
      }
    }
    return null;
  }
}

function suitsTargets(release: Release, targets: readonly string[], isOptional: boolean): boolean {
  if (release.targets.includes('*')) return true;
  const isMatch = globMatcher(release.targets);
  return isOptional
    ? targets.some((target) => isMatch(target))
    : targets.every((target) => isMatch(target));
}
