import type { PackageRecord } from '../registry/index.js';
import { isPrerelease, requireVersion } from '../version/index.js';
import type { LevelPreview } from './leveller.js';

/** Why a candidate is worth a look; what all have alike is no reason. */
export type CandidateReason = 'newest' | 'fewest files' | 'fewest copies' | 'no major step';

/** A version that a package could be levelled at, beside the others. */
export interface Candidate extends LevelPreview {
  readonly reasons: readonly CandidateReason[];
  readonly isNewest: boolean;
  readonly isAgreed: boolean;
  readonly deprecated: string | null;
}

/** What candidates are seen against. */
export interface CandidateGround {
  readonly record: PackageRecord | null;
  /** The shared version as it is. */
  readonly agreed: string | null;
  /** Versions in use. */
  readonly used: readonly string[];
}

/**
 * Previews beside each other: first the newest that has an answer, is not deprecated and takes nobody to a major
 * that none is at yet; then those with most reasons, the newer first where they have as many; what is deprecated
 * and what has no answer last. O(previews squared).
 * @param previews newest first
 */
export function rankCandidates(
  previews: readonly LevelPreview[],
  { record, agreed, used }: CandidateGround,
): readonly Candidate[] {
  const deprecatedOf = (version: string): string | null =>
    record?.releases.find(({ text }) => text === version)?.deprecated ?? null;
  const good = previews.filter(
    ({ result, version }) => result.kind === 'answered' && deprecatedOf(version) === null,
  );
  const newest = record?.releases.findLast(
    ({ isWithdrawn, version }) => !isWithdrawn && !isPrerelease(version),
  )?.text;
  const reasonsOf = reasonsAmong(good);
  const highest = Math.max(...used.map((version) => requireVersion(version).major));
  const begin = good.find(({ version }) => requireVersion(version).major <= highest)?.version;
  return previews
    .map((one): Candidate => {
      const { version, range } = one;
      return {
        ...one,
        reasons: reasonsOf(one),
        isNewest: version === newest,
        isAgreed: range === agreed,
        deprecated: deprecatedOf(version),
      };
    })
    .sort((a, b) => worth(b, begin) - worth(a, begin));
}

function reasonsAmong(
  good: readonly LevelPreview[],
): (preview: LevelPreview) => readonly CandidateReason[] {
  const isLeast = (figure: (one: LevelPreview) => number): ((one: LevelPreview) => boolean) => {
    const figures = new Set(good.map(figure));
    const least = Math.min(...figures);
    return (one) => figures.size > 1 && figure(one) === least;
  };
  const hasFewestCopies = isLeast(copiesAfter);
  const hasFewestFiles = isLeast(({ files }) => files);
  return (one) => {
    if (!good.includes(one)) return [];
    const reasons: CandidateReason[] = [];
    if (one === good[0]) reasons.push('newest');
    if (hasFewestCopies(one)) reasons.push('fewest copies');
    if (hasFewestFiles(one)) reasons.push('fewest files');
    if (one.majorSteps === 0) reasons.push('no major step');
    return reasons;
  };
}

function worth({ version, result, deprecated, reasons }: Candidate, begin?: string): number {
  if (version === begin) return Infinity;
  if (result.kind === 'unanswered') return -2;
  return deprecated === null ? reasons.length : -1;
}

function copiesAfter({ result }: LevelPreview): number {
  return result.kind === 'answered' ? result.allCopies : Infinity;
}
