import { policyOf } from '../../manifest/index.js';
import type { Release } from '../../registry/index.js';
import { isSameVersion, printVersion, rangeContains, requireVersion } from '../../version/index.js';
import { PinScope, type Workspace } from '../../workspace/index.js';
import { PolicyRanges } from './policy-ranges.js';

/** Why a release cannot be used, whatever else is chosen. */
export type Unusable =
  /** Its document has something that cannot be read. */
  | { readonly kind: 'unreadable'; readonly pointer: string; readonly message: string }
  | { readonly kind: 'withdrawn' }
  | { readonly kind: 'not-yet-published'; readonly published: string }
  | { readonly kind: 'too-new'; readonly published: string; readonly minimumAgeDays: number }
  | { readonly kind: 'pinned-elsewhere'; readonly pin: string }
  | { readonly kind: 'not-chosen' }
  | {
      readonly kind: 'platform';
      readonly name: string;
      readonly asks: string;
      readonly offered: string | null;
    }
  | { readonly kind: 'need-unanswered'; readonly name: string; readonly range: string };

/** What a workspace says that bears on which releases can be used. */
export type Terms = Pick<Workspace, 'policy' | 'platform' | 'targets'> & {
  readonly pins: PinScope;
  /** Packages of which these versions alone are looked at. */
  readonly only?: ReadonlyMap<string, ReadonlySet<string>>;
};

export function termsOf(workspace: Workspace): Terms {
  const { policy, platform, targets } = workspace;
  return { policy, platform, targets, pins: new PinScope(workspace) };
}

const DAY_MS = 86_400_000;

/** Which releases a workspace lets in on a day, each looked at by itself: policy, platform, pins, age. */
export class ReleaseTerms {
  readonly ranges: PolicyRanges;

  /** @param asOf YYYY-MM-DD */
  constructor(
    private readonly terms: Terms,
    private readonly asOf: string,
  ) {
    this.ranges = new PolicyRanges(terms.policy);
  }

  letsIn(name: string, release: Release): boolean {
    return this.reasons(name, release).length === 0;
  }

  /**
   * That another version is pinned, where it is.
   * @param folder of the project that requires it itself; null: something else asks
   */
  pinnedElsewhere(name: string, release: Release, folder: string | null): readonly Unusable[] {
    const pin = this.terms.pins.versionFor(name, folder);
    // Build metadata has no weight here either: a pin is the range of one version.
    return pin === null || isSameVersion(requireVersion(pin), release.version)
      ? []
      : [{ kind: 'pinned-elsewhere', pin }];
  }

  /** All reasons why a release is not let in. */
  reasons(name: string, release: Release): readonly Unusable[] {
    const published = release.published.slice(0, 10);
    // Nothing else matters of a release that is not there yet.
    if (published > this.asOf) return [{ kind: 'not-yet-published', published }];
    const reasons: Unusable[] = [];
    if (release.fault !== null) reasons.push({ kind: 'unreadable', ...release.fault });
    if (release.isWithdrawn) reasons.push({ kind: 'withdrawn' });
    const { minimumAgeDays } = policyOf(this.terms.policy, name);
    if (minimumAgeDays > 0) {
      const ageDays = (Date.parse(this.asOf) - Date.parse(published)) / DAY_MS;
      if (ageDays < minimumAgeDays) reasons.push({ kind: 'too-new', published, minimumAgeDays });
    }
    if (this.terms.pins.isWhole(name)) reasons.push(...this.pinnedElsewhere(name, release, null));
    if (this.terms.only?.get(name)?.has(release.text) === false)
      reasons.push({ kind: 'not-chosen' });
    for (const [asked, range] of release.platform) {
      const offered = this.terms.platform.get(asked);
      if (offered !== undefined && rangeContains(this.ranges.ofPlatform(range), offered)) continue;
      const text = offered === undefined ? null : printVersion(offered);
      reasons.push({ kind: 'platform', name: asked, asks: range, offered: text });
    }
    return reasons;
  }
}
