import {
  rangeContains,
  requireRange,
  requireVersion,
  type VersionScheme,
} from '../version/index.js';
import fc from 'fast-check';
import {
  readPackageRecord,
  type PackageRecord,
  type PackageRecords,
  type Release,
} from '../registry/index.js';
import { readWorkspace, type Workspace, type WorkspaceFiles } from '../workspace/index.js';

/** A release told briefly: what it needs by name, and anything else of its document. */
export interface ReleaseSketch {
  readonly needs?: Readonly<Record<string, string>>;
  readonly [key: string]: unknown;
}

/** Packages by name, each with its releases by version. */
export type RegistrySketch = Readonly<Record<string, Readonly<Record<string, ReleaseSketch>>>>;

const INTEGRITY = `sha512-${'A'.repeat(86)}==`;

export function recordsOf(
  sketch: RegistrySketch,
  scheme: VersionScheme = 'semver',
): PackageRecords {
  return new Map(
    Object.entries(sketch).map(([name, releases]) => [name, recordOf(name, releases, scheme)]),
  );
}

function recordOf(
  name: string,
  releases: Readonly<Record<string, ReleaseSketch>>,
  scheme: VersionScheme,
): PackageRecord {
  const document = {
    name,
    releases: Object.entries(releases).map(([version, sketch]) => ({
      version,
      published: '2024-01-01T00:00:00Z',
      archive: { path: `/archives/${name}/${version}`, integrity: INTEGRITY, bytes: 100 },
      ...sketch,
    })),
  };
  const reading = readPackageRecord(document, scheme);
  if (!reading.ok) throw new Error(`${name}${reading.problem.pointer}: ${reading.problem.message}`);
  return reading.record;
}

export const ROOT = `format = 1
name = "test"
projects = ["*"]
registry = "main"
[platform]
runtime = "20.0.0"
targets = ["linux-x64", "darwin-arm64"]
`;

export function tomlKey(key: string): string {
  return /^[\w-]+$/.test(key) ? key : JSON.stringify(key);
}

/** Files of a workspace: projects with their runtime requirements, and what else is given by path. */
export function filesOf(
  projects: Readonly<Record<string, Readonly<Record<string, string>>>>,
  others: Readonly<Record<string, string>> = {},
): WorkspaceFiles {
  const manifests = Object.entries(projects).map(([name, needs]) => {
    const lines = Object.entries(needs).map(([key, value]) => `${tomlKey(key)} = "${value}"\n`);
    return [`${name}/ledger.project.toml`, `name = "${name}"\n[needs]\n${lines.join('')}`] as const;
  });
  return new Map([['ledger.toml', ROOT], ...manifests, ...Object.entries(others)]);
}

export function workspaceOf(files: WorkspaceFiles): Workspace {
  const { workspace, problems } = readWorkspace(files);
  if (workspace === null || problems.length > 0) throw new Error(JSON.stringify(problems));
  return workspace;
}

/** What a random world says beside its requirements. */
export interface PolicySketch {
  readonly copies: 'any' | 'one-per-major' | 'one';
  readonly peers: 'report' | 'strict';
  /** Copies by package, where it differs. */
  readonly ofPackage: Readonly<Record<string, 'any' | 'one-per-major' | 'one'>>;
}

/** A root manifest with a policy. */
export function rootWith({ copies, peers, ofPackage }: PolicySketch): string {
  const tables = Object.entries(ofPackage).map(
    ([name, own]) => `[policy.package.${tomlKey(name)}]\ncopies = "${own}"\n`,
  );
  return `${ROOT}[policy]\ncopies = "${copies}"\npeers = "${peers}"\n${tables.join('')}`;
}

/** A small random world: packages that may need each other in any way, cycles included. */
export interface World {
  readonly registry: RegistrySketch;
  readonly projects: Readonly<Record<string, Readonly<Record<string, string>>>>;
}

const PACKAGES = ['ash', 'birch', 'cedar', 'dogwood', 'elm'];
const VERSIONS = ['1.0.0', '1.1.0', '1.2.0', '2.0.0', '2.1.0', '3.0.0'];

const anyRange = fc.oneof(
  fc
    .constantFrom(...VERSIONS)
    .chain((version) => fc.constantFrom(`^${version}`, `~${version}`, version, `>=${version}`)),
  fc.constantFrom('*', '^1.0.0 || ^3.0.0', '1.0.0 || 2.1.0', '<2.0.0', '>=1.1.0 <3.0.0', '^4.0.0'),
);

const anyNeeds = fc
  .array(fc.tuple(fc.constantFrom(...PACKAGES), anyRange), { maxLength: 2 })
  .map((entries) => Object.fromEntries(entries) as Record<string, string>);

const anyReleases = fc
  .uniqueArray(fc.tuple(fc.constantFrom(...VERSIONS), anyNeeds, fc.integer({ min: 0, max: 9 })), {
    selector: ([version]) => version,
    minLength: 1,
    maxLength: 5,
  })
  .map((list) =>
    Object.fromEntries(
      list.map(([version, needs, dice]) => [
        version,
        {
          needs,
          ...(dice === 0 ? { withdrawn: true } : {}),
          ...(dice === 1 ? { platform: { runtime: '>=22' } } : {}),
          ...(dice === 2 ? { deprecated: 'old' } : {}),
        },
      ]),
    ),
  );

/** One in four has an answer. */
export const anyWorld: fc.Arbitrary<World> = fc.record({
  registry: fc
    .tuple(...PACKAGES.map(() => anyReleases))
    .map((lists) => Object.fromEntries(lists.map((releases, i) => [PACKAGES[i]!, releases]))),
  projects: fc
    .uniqueArray(fc.tuple(fc.constantFrom('north', 'south', 'west'), anyNeeds), {
      selector: ([name]) => name,
      minLength: 1,
    })
    .map((list) => Object.fromEntries(list)),
});

/** Does one of these versions lie in a range? */
export function liesIn(versions: readonly string[], range: string): boolean {
  return versions.some((one) => rangeContains(requireRange(range), requireVersion(one)));
}

/** The same, three in four with an answer: a range in which no release lies is not asked for. */
export const anyAnswerableWorld: fc.Arbitrary<World> = anyWorld.map(({ registry, projects }) => {
  const offered = (needs: Readonly<Record<string, string>>): Record<string, string> =>
    Object.fromEntries(
      Object.entries(needs).filter(([name, range]) => liesIn(Object.keys(registry[name]!), range)),
    );
  const releases = (all: RegistrySketch[string]): RegistrySketch[string] =>
    Object.fromEntries(
      Object.entries(all).map(([version, one]) => [
        version,
        { ...one, needs: offered(one.needs ?? {}) },
      ]),
    );
  return {
    registry: Object.fromEntries(
      Object.entries(registry).map(([name, all]) => [name, releases(all)]),
    ),
    projects: Object.fromEntries(
      Object.entries(projects).map(([name, needs]) => [name, offered(needs)]),
    ),
  };
});

/** The same world with everything in another order. */
export function shuffled({ registry, projects }: World): World {
  const turn = <T>(
    record: Readonly<Record<string, T>>,
    change: (value: T) => T,
  ): Record<string, T> =>
    Object.fromEntries(
      Object.entries(record)
        .reverse()
        .map(([key, value]) => [key, change(value)]),
    );
  return {
    registry: turn(registry, (releases) =>
      turn(releases, (release) => ({
        ...release,
        needs: turn(release.needs ?? {}, (range) => range),
      })),
    ),
    projects: turn(projects, (needs) => turn(needs, (range) => range)),
  };
}

export function releasesOf(records: PackageRecords, name: string): readonly Release[] {
  return records.get(name)?.releases ?? [];
}

const anyCopies = fc.constantFrom('any' as const, 'one-per-major' as const, 'one' as const);

export const anyPolicy: fc.Arbitrary<PolicySketch> = fc.record({
  copies: anyCopies,
  peers: fc.constant('report' as const),
  ofPackage: fc.dictionary(fc.constantFrom(...PACKAGES), anyCopies, { maxKeys: 3 }),
});

const FEW_VERSIONS = ['1.0.0', '1.1.0', '2.0.0'];
const FEW_PACKAGES = ['ash', 'birch', 'cedar', 'dogwood'];

const anyFewNeeds = (maxLength: number) =>
  fc
    .array(
      fc.tuple(
        fc.constantFrom(...FEW_PACKAGES),
        fc.constantFrom('*', '^1.0.0', '^2.0.0', '1.0.0', '>=1.1.0', '1.0.0 || 2.0.0'),
      ),
      { maxLength },
    )
    .map((entries) => Object.fromEntries(entries) as Record<string, string>);

/** A world so small that every way to answer it can be tried, with peers. */
export const anyPeerWorld: fc.Arbitrary<World> = fc.record({
  registry: fc
    .tuple(
      ...FEW_PACKAGES.map(() =>
        fc.uniqueArray(
          fc.tuple(fc.constantFrom(...FEW_VERSIONS), anyFewNeeds(2), anyFewNeeds(1), fc.boolean()),
          { selector: ([version]) => version, minLength: 1, maxLength: 3 },
        ),
      ),
    )
    .map((lists) =>
      Object.fromEntries(
        lists.map((list, i) => [
          FEW_PACKAGES[i]!,
          Object.fromEntries(
            list.map(([version, needs, peers, optional]) => [
              version,
              {
                needs,
                peers: Object.fromEntries(
                  Object.entries(peers).map(([name, range]) => [name, { range, optional }]),
                ),
              },
            ]),
          ),
        ]),
      ),
    ),
  projects: fc
    .uniqueArray(fc.tuple(fc.constantFrom('north', 'south'), anyFewNeeds(2)), {
      selector: ([name]) => name,
      minLength: 1,
    })
    .map((list) => Object.fromEntries(list)),
});
