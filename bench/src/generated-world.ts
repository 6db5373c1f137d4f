import type { WorkspaceFiles } from '@deep-ledger/core';
import { seededRandom, type Random } from './random.js';

/** How large a made-up workspace is. */
export interface WorldSize {
  readonly name: 'S' | 'M' | 'L';
  readonly projects: number;
  readonly packages: number;
  readonly requirementsPerProject: number;
}

/** S is about the demo's size. L comes out at 20,000 copies, 120,000 links and 40,000 releases. */
export const SIZES: Readonly<Record<WorldSize['name'], WorldSize>> = {
  S: { name: 'S', projects: 17, packages: 52, requirementsPerProject: 8 },
  M: { name: 'M', projects: 200, packages: 2_450, requirementsPerProject: 20 },
  L: { name: 'L', projects: 1_000, packages: 12_300, requirementsPerProject: 20 },
};

export interface World {
  readonly files: WorkspaceFiles;
  /** The registry's documents as JSON texts, by package. */
  readonly documents: ReadonlyMap<string, string>;
}

const LAYERS = 15;
const INTEGRITY_LETTERS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/';

interface Package {
  readonly name: string;
  readonly layer: number;
  readonly versions: readonly string[];
  /** Each of them is followed by a release of the same major and minor, so that no range is left empty. */
  readonly withdrawn: ReadonlySet<string>;
}

/**
 * A workspace and its registry: few packages used by very many, long tails, chains to depth 15, a few
 * cycles, optional needs for some targets, peers, withdrawn and deprecated releases.
 */
export function generatedWorld(size: WorldSize, seed: number): World {
  const random = seededRandom(seed);
  const packages = Array.from({ length: size.packages }, (_, i) => packageAt(i, size, random));
  const byLayer = Array.from({ length: LAYERS }, (_, layer) =>
    packages.filter((one) => one.layer === layer),
  );
  const parents = parentsOf(packages, byLayer, random);
  const documents = new Map(
    packages.map((one) => [
      one.name,
      JSON.stringify(documentOf(one, byLayer, parents.get(one) ?? [], random)),
    ]),
  );
  return { files: filesOf(size, packages, byLayer, random), documents };
}

function packageAt(index: number, size: WorldSize, random: Random): Package {
  const layer = Math.min(LAYERS - 1, Math.floor((index / size.packages) * LAYERS));
  const isPopular = random.chance(0.04);
  const count = isPopular ? 12 + random.below(24) : 1 + random.below(4);
  const versions: string[] = [];
  let [major, minor, patch] = [random.chance(0.15) ? 0 : 1, 1, 0];
  for (let i = 0; i < count; i++) {
    versions.push(`${major}.${minor}.${patch}`);
    const dice = random.next();
    if (dice < (isPopular ? 0.1 : 0.4)) [major, minor, patch] = [major + 1, 0, 0];
    else if (dice < 0.7) [minor, patch] = [minor + 1, 0];
    else patch += 1;
  }
  const withdrawn = new Set(
    versions.filter(
      (version, i) => lineOf(version) === lineOf(versions[i + 1] ?? '') && random.chance(0.02),
    ),
  );
  return { name: `pack-${layer.toString(36)}-${index.toString(36)}`, layer, versions, withdrawn };
}

function lineOf(version: string): string {
  return version.slice(0, version.lastIndexOf('.'));
}

/** Every package below the first layer is needed by one above it, so that none is idle. */
function parentsOf(
  packages: readonly Package[],
  byLayer: readonly (readonly Package[])[],
  random: Random,
): ReadonlyMap<Package, readonly Package[]> {
  const parents = new Map<Package, Package[]>();
  for (const one of packages) {
    if (one.layer === 0) continue;
    const above = byLayer[one.layer - 1]!;
    const parent = above[random.below(above.length)]!;
    parents.set(parent, [...(parents.get(parent) ?? []), one]);
  }
  return parents;
}

/** The first packages of a layer are picked most: by the square of an even chance. */
function pick(list: readonly Package[], random: Random): Package {
  return list[Math.floor(random.next() ** 3 * list.length)]!;
}

function rangeOn(one: Package, random: Random): string {
  const version = one.versions[random.below(one.versions.length)]!;
  const dice = random.next();
  if (dice < 0.78) return `^${version}`;
  if (dice < 0.88) return `~${version}`;
  if (dice < 0.93) return `>=${version}`;
  if (dice < 0.95 && !one.withdrawn.has(version)) return version;
  const other = one.versions[random.below(one.versions.length)]!;
  return dice < 0.98 ? `^${version} || ^${other}` : '*';
}

function documentOf(
  one: Package,
  byLayer: readonly (readonly Package[])[],
  children: readonly Package[],
  random: Random,
): unknown {
  const likes = Array.from({ length: 5 }, () => {
    const below = one.layer + 1 + random.below(3);
    return below < LAYERS ? pick(byLayer[below]!, random) : null;
  }).filter((other) => other !== null);
  const isInCycle = one.layer > 1 && random.chance(0.002);
  const releases = one.versions.map((version, i) => {
    const needs: Record<string, string> = {};
    for (const child of children) needs[child.name] = rangeOn(child, random);
    for (const other of likes) if (random.chance(0.97)) needs[other.name] = rangeOn(other, random);
    if (isInCycle) {
      const back = byLayer[one.layer - 1]!;
      needs[pick(back, random).name] = '*';
    }
    const sometimes = byLayer[one.layer + 1]?.[i];
    const hasOptional =
      sometimes !== undefined && !(sometimes.name in needs) && random.chance(0.02);
    const peers =
      one.layer < 3 && random.chance(0.05)
        ? { [byLayer[4]![random.below(3)]!.name]: { range: '>=1.0.0' } }
        : undefined;
    const day = Date.UTC(2022, 0, 1) + (i * 40 + random.below(200)) * 86_400_000;
    return {
      version,
      published: new Date(day).toISOString(),
      licence: random.chance(0.8) ? 'MIT' : 'Apache-2.0',
      needs,
      ...(hasOptional ? { optional: { [sometimes.name]: { range: '*', when: ['linux-*'] } } } : {}),
      ...(peers === undefined ? {} : { peers }),
      platform: random.chance(0.1) ? { runtime: '>=18' } : {},
      targets: ['*'],
      deprecated: random.chance(0.02) ? 'take a newer one' : null,
      withdrawn: one.withdrawn.has(version),
      archive: {
        path: `/archives/${one.name}/${version}`,
        integrity: `sha512-${letters(86, random)}==`,
        bytes: 1000 + random.below(200_000),
      },
    };
  });
  return { name: one.name, summary: `made up, layer ${one.layer}`, releases };
}

function letters(count: number, random: Random): string {
  let text = '';
  for (let i = 0; i < count; i++) text += INTEGRITY_LETTERS[random.below(64)]!;
  return text;
}

function filesOf(
  size: WorldSize,
  packages: readonly Package[],
  byLayer: readonly (readonly Package[])[],
  random: Random,
): WorkspaceFiles {
  const shared = packages.filter(({ layer }) => layer < 6).filter((_, i) => i % 40 === 0);
  const sharedNames = new Set(shared.map(({ name }) => name));
  const files = new Map([
    [
      'ledger.toml',
      'format = 1\nname = "generated"\nprojects = ["projects/*"]\nregistry = "main"\n\n[platform]\nruntime = "20.11.0"\ntargets = ["linux-x64", "darwin-arm64"]\n',
    ],
    [
      'ledger.shared.toml',
      `format = 1\n\n[shared]\n${shared.map((one) => `${one.name} = "^${one.versions.at(-1)!}"\n`).join('')}`,
    ],
  ]);
  const firsts = [...byLayer[0]!];
  for (let i = 0; i < size.projects; i++) {
    const needs = new Map<string, string>();
    const require = (one: Package): void => {
      const takes = sharedNames.has(one.name) && random.chance(0.8);
      needs.set(one.name, takes ? 'shared' : rangeOn(one, random));
    };
    for (let at = i; at < firsts.length; at += size.projects) require(firsts[at]!);
    while (needs.size < size.requirementsPerProject)
      require(pick(byLayer[random.below(8)]!, random));
    const lines = [...needs]
      .sort(([a], [b]) => (a < b ? -1 : 1))
      .map(([name, range]) => `${name} = "${range}"\n`);
    const below = i > 0 && random.chance(0.3) ? [`project-${random.below(i)} = "workspace"\n`] : [];
    files.set(
      `projects/project-${i}/ledger.project.toml`,
      `name = "project-${i}"\nversion = "1.0.${i}"\n\n[needs]\n${lines.join('')}${below.join('')}`,
    );
  }
  return files;
}
