import type { PackageRecords } from '../../registry/index.js';
import { policyOf } from '../../manifest/index.js';
import { matchingTargets, type Workspace } from '../../workspace/index.js';
import { recordsAsAnswered } from '../model/answered-otherwise.js';
import { Catalog } from '../model/catalog.js';
import { termsOf } from '../model/release-terms.js';
import { countStabs } from '../choose/fewest-stabs.js';
import type { Resolution } from '../model/resolution.js';
import { statedDemands, type StatedDemand } from './stated-demands.js';
import { UsableReleases, type Pool } from '../model/usable-releases.js';

/** Proof that a package cannot do with fewer copies than `least`. */
export interface Certificate {
  readonly name: string;
  /** The versions of its copies. More than `least`: some are there only because answers before stay. */
  readonly versions: readonly string[];
  readonly least: number;
  /** `apart`: no release meets any two of the demands. `exhausted`: no `least - 1` releases meet them all. */
  readonly proof: 'apart' | 'exhausted';
  readonly demands: readonly StatedDemand[];
}

/** A resolution's certificates, and what they take as given. */
export interface Certificates {
  /** Of packages under a policy on copies, the copies that were chosen; no other release of them is looked at. */
  readonly given: readonly { readonly name: string; readonly versions: readonly string[] }[];
  /** One for each package with more than one copy, sorted by name. */
  readonly packages: readonly Certificate[];
}

/**
 * Proves for every package with several copies how many it needs at least: by demands no two of which one
 * release meets where there are that many, else by demands that no fewer releases meet.
 * @param packageName the one package that is proven; without it all that have several copies
 * Cost: one look at all releases, and for each package the search for its demands.
 */
export function certify(
  workspace: Workspace,
  records: PackageRecords,
  asOf: string,
  resolution: Resolution,
  packageName?: string,
): Certificates {
  const versions = versionsByName(resolution);
  const given = [...records.keys()]
    .sort()
    .filter((name) => policyOf(workspace.policy, name).copies !== 'any')
    .map((name) => ({ name, versions: versions.get(name) ?? [] }));
  const only = new Map(given.map((one) => [one.name, new Set(one.versions)]));
  const usable = new UsableReleases(
    new Catalog(recordsAsAnswered(records, workspace, asOf)),
    { ...termsOf(workspace), only },
    asOf,
  );
  const demands = statedDemands(workspace.policy, resolution);
  const packages = [...versions]
    .filter(([name, all]) => all.length > 1 && (packageName === undefined || name === packageName))
    .map(([name, all]): Certificate => {
      const target = usable.catalog.numberOf.get(name)!;
      const byPool = new Map<Pool, StatedDemand>();
      for (const { when, ofOwner, isOfProject, ...demand } of demands.get(name) ?? []) {
        const targets = matchingTargets(workspace.targets, when, ofOwner);
        const pool = usable.poolFor(
          target,
          demand.range,
          targets,
          demand.kind === 'optional',
          isOfProject && usable.isLeftOut(demand.owner, name),
        );
        if (!byPool.has(pool)) byPool.set(pool, demand);
      }
      return { name, versions: all, ...proofOf([...byPool]) };
    });
  return { given, packages };
}

function versionsByName({ copies }: Resolution): ReadonlyMap<string, readonly string[]> {
  const versions = new Map<string, string[]>();
  for (const { name, version } of copies)
    versions.set(name, [...(versions.get(name) ?? []), version]);
  return versions;
}

type PooledDemand = readonly [pool: Pool, demand: StatedDemand];

function proofOf(
  demands: readonly PooledDemand[],
): Pick<Certificate, 'least' | 'proof' | 'demands'> {
  const least = stabs(demands);
  const apart = demandsApart(demands, least);
  if (apart !== null) return { least, proof: 'apart', demands: apart.map(([, demand]) => demand) };
  let needed = demands;
  for (const one of demands) {
    const without = needed.filter((other) => other !== one);
    if (stabs(without) === least) needed = without;
  }
  return { least, proof: 'exhausted', demands: needed.map(([, demand]) => demand) };
}

function stabs(demands: readonly PooledDemand[]): number {
  const candidates = [...new Set(demands.flatMap(([{ releases }]) => releases))].sort(
    (a, b) => a - b,
  );
  const index = new Map(candidates.map((release, i) => [release, i]));
  return countStabs(demands.map(([{ releases }]) => releases.map((one) => index.get(one)!)));
}

/**
 * That many demands of which no two share a release, or null. The one that ends first is tried first: of
 * unbroken runs that is always right (see `fewestStabs`), so only holes make it search.
 */
function demandsApart(
  demands: readonly PooledDemand[],
  wanted: number,
): readonly PooledDemand[] | null {
  if (wanted === 0) return [];
  const byEnd = [...demands].sort(([a], [b]) => a.releases.at(-1)! - b.releases.at(-1)!);
  const [first] = byEnd;
  if (first === undefined) return null;
  for (const one of byEnd.filter(([pool]) => isMeeting(pool, first[0]))) {
    const rest = demands.filter(([pool]) => !isMeeting(pool, one[0]));
    const others = rest.length < wanted - 1 ? null : demandsApart(rest, wanted - 1);
    if (others !== null) return [one, ...others];
  }
  const rest = demands.filter((one) => !isMeeting(one[0], first[0]));
  return rest.length < wanted ? null : demandsApart(rest, wanted);
}

function isMeeting(a: Pool, b: Pool): boolean {
  return a.releases.some((release) => b.releases.includes(release));
}
