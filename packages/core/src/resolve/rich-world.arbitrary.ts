import fc from 'fast-check';
import { PROJECT_FILE, type WorkspaceFiles } from '../workspace/index.js';
import type { PackageRecords } from '../registry/index.js';
import {
  liesIn,
  recordsOf,
  rootWith,
  tomlKey,
  type PolicySketch,
  type RegistrySketch,
  type ReleaseSketch,
} from './world.arbitrary.js';

/*
 * Small worlds in which all that is rare in real ones is frequent: optional requirements, some for one target alone,
 * peers, strict policies, releases that are withdrawn, deprecated, too new for the platform, unreadable or for one
 * target, and a package that the registry does not have.
 */

/** A requirement of a project or a release, told briefly. */
interface NeedSketch {
  readonly name: string;
  readonly range: string;
  readonly isOptional: boolean;
  readonly when: readonly string[];
}

export interface RichWorld {
  readonly registry: RegistrySketch;
  readonly projects: Readonly<Record<string, readonly NeedSketch[]>>;
  readonly policy: PolicySketch;
}

/** No registry has it. */
const GONE = 'ghost';
export const RICH_PACKAGES = ['@crew/ash', 'Birch', 'org.wood:cedar', 'ñandú/dogwood'];
const VERSIONS = ['1.0.0', '1.1.0', '2.0.0', '2.1.0-rc.1'];
const RANGES = ['*', '^1.0.0', '^2.0.0', '1.0.0', '>=1.1.0', '1.0.0 || 2.0.0', '^3.0.0', '<2.0.0'];

const anyWhen = fc.oneof(
  { weight: 3, arbitrary: fc.constant([]) },
  { weight: 1, arbitrary: fc.constantFrom(['linux-*'], ['darwin-*']) },
);

const anyNeedsOf = (maxLength: number): fc.Arbitrary<readonly NeedSketch[]> =>
  fc.uniqueArray(
    fc.record({
      name: fc.oneof(
        { weight: 9, arbitrary: fc.constantFrom(...RICH_PACKAGES) },
        { weight: 1, arbitrary: fc.constant(GONE) },
      ),
      range: fc.constantFrom(...RANGES),
      isOptional: fc.boolean(),
      when: anyWhen,
    }),
    { selector: ({ name }) => name, maxLength },
  );

const anyPeers = fc.dictionary(
  fc.constantFrom(...RICH_PACKAGES),
  fc.record({ range: fc.constantFrom(...RANGES), optional: fc.boolean() }),
  { maxKeys: 2 },
);

/** Mostly none. */
const anyFlaw: fc.Arbitrary<ReleaseSketch> = fc.oneof(
  { weight: 6, arbitrary: fc.constant({}) },
  {
    weight: 3,
    arbitrary: fc.constantFrom<ReleaseSketch>(
      { withdrawn: true },
      { platform: { runtime: '>=22' } },
      { deprecated: 'old' },
      { targets: ['linux-*'] },
      { licence: 7 },
      { published: '2026-01-01T00:00:00Z' },
    ),
  },
);

const anyReleases = fc.uniqueArray(
  fc.tuple(fc.constantFrom(...VERSIONS), anyNeedsOf(2), anyPeers, anyFlaw),
  { selector: ([version]) => version, minLength: 1, maxLength: 3 },
);

function tableOf(needs: readonly NeedSketch[], isOptional: boolean): Record<string, never> {
  return Object.fromEntries(
    needs
      .filter((need) => need.isOptional === isOptional)
      .map(({ name, range, when }) => [name, when.length === 0 ? range : { range, when }]),
  ) as Record<string, never>;
}

const anyCopies = fc.constantFrom('any' as const, 'one-per-major' as const, 'one' as const);

export const anyRichPolicy: fc.Arbitrary<PolicySketch> = fc.record({
  copies: anyCopies,
  peers: fc.constantFrom('report' as const, 'strict' as const),
  ofPackage: fc.dictionary(fc.constantFrom(...RICH_PACKAGES), anyCopies, { maxKeys: 2 }),
});

/** What is drawn; of each package its releases. */
const anyParts = fc.record({
  lists: fc.tuple(...RICH_PACKAGES.map(() => anyReleases)),
  projects: fc.uniqueArray(fc.tuple(fc.constantFrom('north', 'south'), anyNeedsOf(3)), {
    selector: ([name]) => name,
    minLength: 1,
  }),
  policy: anyRichPolicy,
});

type Parts = typeof anyParts extends fc.Arbitrary<infer Drawn> ? Drawn : never;

function worldOf(
  { lists, projects, policy }: Parts,
  told: (need: NeedSketch) => NeedSketch,
): RichWorld {
  const registry = lists.map((releases, i) => [
    RICH_PACKAGES[i]!,
    Object.fromEntries(
      releases.map(([version, drawn, peers, flaw]) => {
        const needs = drawn.map(told);
        return [
          version,
          { needs: tableOf(needs, false), optional: tableOf(needs, true), peers, ...flaw },
        ];
      }),
    ),
  ]);
  return {
    registry: Object.fromEntries(registry) as RegistrySketch,
    projects: Object.fromEntries(projects.map(([name, needs]) => [name, needs.map(told)])),
    policy,
  };
}

/** One world in three has an answer. */
export const anyRichWorld: fc.Arbitrary<RichWorld> = anyParts.map((parts) =>
  worldOf(parts, (need) => need),
);

/** The same, three in four with an answer: where no release lies in a range, it is asked for optionally. */
export const anyAnswerableRichWorld: fc.Arbitrary<RichWorld> = anyParts.map((parts) => {
  const versionsOf = (name: string): readonly string[] =>
    parts.lists[RICH_PACKAGES.indexOf(name)]?.map(([version]) => version) ?? [];
  return worldOf(parts, (need) =>
    liesIn(versionsOf(need.name), need.range) ? need : { ...need, isOptional: true },
  );
});

export function richRecords({ registry }: RichWorld): PackageRecords {
  return new Map([...recordsOf(registry), [GONE, null]]);
}

export function richFiles({ projects, policy }: RichWorld): WorkspaceFiles {
  const manifests = Object.entries(projects).map(([name, needs]) => {
    const lines = (isOptional: boolean): string =>
      needs
        .filter((need) => need.isOptional === isOptional)
        .map((need) => {
          const when = `when = [${need.when.map((one) => `"${one}"`).join(', ')}]`;
          return `${tomlKey(need.name)} = { range = "${need.range}", ${when} }\n`;
        })
        .join('');
    const text = `name = "${name}"\nversion = "1.0.0"\n[needs]\n${lines(false)}[needs.optional]\n${lines(true)}`;
    return [`${name}/${PROJECT_FILE}`, text] as const;
  });
  return new Map([['ledger.toml', rootWith(policy)], ...manifests]);
}
