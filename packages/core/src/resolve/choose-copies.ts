import type { Release } from '../registry/index.js';
import { compareVersions } from '../version/index.js';
import type { AvailableReleases } from './available-releases.js';
import type { Demand } from './demand.js';
import { fewestStabs } from './fewest-stabs.js';

/** The release that answers each demand of one package, by owner; null: none can. */
export type Choice = ReadonlyMap<string, Release | null>;

/**
 * Answers all demands on one package under the policy `any`: a demand keeps the release that answered
 * it before; the others join those, and what is left gets the fewest further releases, of those
 * first the ones the lockfile had, then the newest that is not deprecated.
 * @param heldVersions all versions of the package in the lockfile before
 */
export function chooseCopies(
  name: string,
  demands: readonly Demand[],
  available: AvailableReleases,
  heldVersions: ReadonlySet<string>,
): Choice {
  const admitted = new Map(
    demands.map((d) => [d.owner, available.within(name, d.range, d.targets, d.isOptional)]),
  );
  const answers = new Map<string, Release | null>();
  const kept = new Set<Release>();
  for (const { owner, held } of demands) {
    const release =
      held === null ? undefined : admitted.get(owner)!.find(({ text }) => text === held);
    if (release === undefined) continue;
    answers.set(owner, release);
    kept.add(release);
  }
  const open = demands.filter(
    ({ owner }) => !answers.has(owner) && admitted.get(owner)!.length > 0,
  );
  const unmet = open.filter(
    ({ owner }) => !admitted.get(owner)!.some((release) => kept.has(release)),
  );
  for (const release of fewestReleases(
    unmet.map(({ owner }) => admitted.get(owner)!),
    heldVersions,
  )) {
    kept.add(release);
  }
  const byNewest = [...kept].sort(newestFirst);
  for (const { owner } of open) {
    answers.set(
      owner,
      byNewest.find((release) => admitted.get(owner)!.includes(release))!,
    );
  }
  for (const { owner } of demands) if (!answers.has(owner)) answers.set(owner, null);
  return answers;
}

function newestFirst(a: Release, b: Release): number {
  const isWorse = Number(a.deprecated !== null) - Number(b.deprecated !== null);
  return isWorse || compareVersions(b.version, a.version);
}

function fewestReleases(
  demands: readonly (readonly Release[])[],
  heldVersions: ReadonlySet<string>,
): readonly Release[] {
  const candidates = [...new Set(demands.flat())].sort((a, b) =>
    compareVersions(a.version, b.version),
  );
  const index = new Map(candidates.map((release, i) => [release, i]));
  const preference = [...candidates].sort((a, b) => {
    const isNewcomer = Number(!heldVersions.has(a.text)) - Number(!heldVersions.has(b.text));
    return isNewcomer || newestFirst(a, b);
  });
  return fewestStabs(
    demands.map((releases) => releases.map((release) => index.get(release)!)),
    preference.map((release) => index.get(release)!),
  ).map((i) => candidates[i]!);
}
