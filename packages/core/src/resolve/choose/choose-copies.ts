import { compareVersions } from '../../version/index.js';
import type { Catalog } from '../model/catalog.js';
import { NONE, type Demand } from '../model/demand.js';
import { fewestStabs } from './fewest-stabs.js';
import type { Pool } from '../model/usable-releases.js';

/**
 * Answers all demands on one package: a demand keeps the release that answered it before; the others
 * join those, and what is left gets the fewest further releases, of those first the ones that the
 * lockfile had, then the newest that is not deprecated. Sets `answer` of every demand.
 * @param isHeld was this release of the package in the lockfile before?
 * @param touched is told of each demand whose answer changed
 * @returns the releases that answer anything
 * Cost: O(demands), and that of `fewestStabs` over the distinct pools that no kept release meets.
 */
export function chooseCopies(
  catalog: Catalog,
  demands: readonly Demand[],
  isHeld: (release: number) => boolean,
  touched: (demand: Demand) => void,
): ReadonlySet<number> {
  const chosen = new Set<number>();
  const pools = new Map<Pool, number>();
  for (const { held, pool } of demands) {
    if (held !== NONE) chosen.add(held);
    else pools.set(pool, NONE);
  }
  const open = [...pools.keys()].filter(({ releases }) => releases.length > 0);
  const unmet = open.filter(({ releases }) => !releases.some((release) => chosen.has(release)));
  for (const release of fewestReleases(catalog, unmet, isHeld)) chosen.add(release);
  const byPreference = [...chosen].sort((a, b) => compareByPreference(catalog, a, b));
  for (const pool of open) {
    pools.set(
      pool,
      byPreference.find((release) => pool.releases.includes(release))!,
    );
  }
  for (const demand of demands) {
    const answer = demand.held === NONE ? pools.get(demand.pool)! : demand.held;
    if (answer === demand.answer) continue;
    demand.answer = answer;
    touched(demand);
  }
  return chosen;
}

/** Not deprecated before deprecated, newer before older. For releases of one package. */
export function compareByPreference({ releases }: Catalog, a: number, b: number): number {
  const isWorse =
    Number(releases[a]!.deprecated !== null) - Number(releases[b]!.deprecated !== null);
  return isWorse || compareVersions(releases[b]!.version, releases[a]!.version);
}

/** The fewest releases that meet all of these pools of one package, none empty. */
export function fewestReleases(
  catalog: Catalog,
  pools: readonly Pool[],
  isHeld: (release: number) => boolean,
): readonly number[] {
  const common = inAll(pools);
  if (common.length > 0) {
    const compare = (a: number, b: number): number =>
      Number(!isHeld(a)) - Number(!isHeld(b)) || compareByPreference(catalog, a, b);
    return [common.reduce((best, release) => (compare(release, best) < 0 ? release : best))];
  }
  if (pools.length === 0) return [];
  const candidates = [...new Set(pools.flatMap(({ releases }) => releases))].sort((a, b) => a - b);
  const index = new Map(candidates.map((release, i) => [release, i]));
  const preference = [...candidates].sort((a, b) => {
    const isNewcomer = Number(!isHeld(a)) - Number(!isHeld(b));
    return isNewcomer || compareByPreference(catalog, a, b);
  });
  return fewestStabs(
    pools.map(({ releases }) => releases.map((release) => index.get(release)!)),
    preference.map((release) => index.get(release)!),
  ).map((i) => candidates[i]!);
}

/** The releases that all of the pools have; one of them is enough for all, and mostly there are some. */
function inAll(pools: readonly Pool[]): readonly number[] {
  const [first, ...others] = pools;
  if (first === undefined) return [];
  let common = first.releases;
  for (const { releases } of others) common = common.filter((one) => releases.includes(one));
  return common;
}
