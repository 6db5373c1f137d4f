import { policyOf } from '../../manifest/index.js';
import type { Release } from '../../registry/index.js';
import { isSameVersion, printVersion, rangeContains, requireVersion } from '../../version/index.js';
import type { Workspace } from '../../workspace/index.js';
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
  readonly pins: ReadonlyMap<string, { readonly text: string }>;
  /** Packages of which these versions alone are looked at. */
  readonly only?: ReadonlyMap<string, ReadonlySet<string>>;
};

export function termsOf({ policy, platform, targets, shared }: Workspace): Terms {
  return { policy, platform, targets, pins: shared.pins };
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

  /** All reasons why a release is not let in. */
  reasons(name: string, release: Release): readonly Unusable[] {
    const published = release.published.slice(0, 10);
    // What is not there yet has nothing else that matters.
    if (published > this.asOf) return [{ kind: 'not-yet-published', published }];
    const reasons: Unusable[] = [];
    if (release.fault !== null) reasons.push({ kind: 'unreadable', ...release.fault });
    if (release.isWithdrawn) reasons.push({ kind: 'withdrawn' });
    const { minimumAgeDays } = policyOf(this.terms.policy, name);
    if (minimumAgeDays > 0) {
      const ageDays = (Date.parse(this.asOf) - Date.parse(published)) / DAY_MS;
      if (ageDays < minimumAgeDays) reasons.push({ kind: 'too-new', published, minimumAgeDays });
    }
    const pin = this.terms.pins.get(name)?.text;
    // Build metadata has no weight here either: a pin is the range of one version.
    if (pin !== undefined && !isSameVersion(requireVersion(pin), release.version))
      reasons.push({ kind: 'pinned-elsewhere', pin });
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
