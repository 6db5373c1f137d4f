import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import type { PackageRecords } from '../../registry/index.js';
import { rangeContains, requireRange } from '../../version/index.js';
import { certify, type Certificates } from './certificate.js';
import { checkCertificates } from './check-certificates.js';
import { Engine } from '../engine.js';
import { needlessCopies } from './needless-copies.js';
import { statedDemands } from './stated-demands.js';
import {
  anyPolicy,
  anyAnswerableWorld,
  filesOf,
  recordsOf,
  releasesOf,
  rootWith,
  workspaceOf,
  type RegistrySketch,
  type World,
} from '../world.arbitrary.js';

const asOf = '2025-01-01';

function answer(records: PackageRecords, projects: World['projects'], root?: string) {
  const workspace = workspaceOf(
    filesOf(projects, root === undefined ? {} : { 'ledger.toml': root }),
  );
  const engine = new Engine(records);
  const outcome = engine.resolve({ workspace, asOf, before: null });
  if (outcome.kind !== 'answered') return null;
  const { resolution } = outcome;
  return {
    workspace,
    engine,
    resolution,
    certificates: certify(workspace, records, asOf, resolution),
  };
}

describe('in random worlds', () => {
  test('every certificate is accepted by a checker that knows nothing of the solver', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, anyPolicy, (world, policy) => {
        const records = recordsOf(world.registry);
        const found = answer(records, world.projects, rootWith(policy));
        if (found === null) return;
        const { workspace, resolution, certificates } = found;
        expect(checkCertificates(workspace, records, asOf, resolution, certificates)).toEqual([]);
      }),
    );
  });

  test('the least number is that of the smallest set of releases that meets all demands', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, (world) => {
        const records = recordsOf(world.registry);
        const found = answer(records, world.projects);
        if (found === null) return;
        for (const { name, least } of found.certificates.packages) {
          const ranges = statedDemands(found.workspace.policy, found.resolution)
            .get(name)!
            .map(({ range }) => range);
          const inUse = new Set(found.resolution.copies.map((one) => `${one.name} ${one.version}`));
          const releases = releasesOf(records, name).filter(
            ({ text, isWithdrawn, platform, needs }) =>
              inUse.has(`${name} ${text}`) ||
              (!isWithdrawn && platform.length === 0 && needs.length === 0),
          );
          // These are some of the releases that can be used, so they cannot do with fewer.
          expect(least).toBeLessThanOrEqual(smallestSet(ranges, releases));
        }
      }),
    );
  });
});

function smallestSet(
  ranges: readonly string[],
  releases: readonly ReturnType<typeof releasesOf>[number][],
): number {
  let fewest = Infinity;
  for (let mask = 1; mask < 1 << releases.length; mask++) {
    const subset = releases.filter((_, i) => (mask & (1 << i)) !== 0);
    const isMet = ranges.every((range) =>
      subset.some(({ version }) => rangeContains(requireRange(range), version)),
    );
    if (isMet) fewest = Math.min(fewest, subset.length);
  }
  return fewest;
}

describe('by hand:', () => {
  const registry: RegistrySketch = { log: { '1.0.0': {}, '2.0.0': {}, '3.0.0': {} } };

  test('two demands apart', () => {
    const found = answer(recordsOf(registry), { a: { log: '^1.0.0' }, b: { log: '^2.0.0' } })!;
    expect(found.certificates).toEqual({
      given: [],
      packages: [
        {
          name: 'log',
          versions: ['1.0.0', '2.0.0'],
          least: 2,
          proof: 'apart',
          demands: [
            { owner: 'a', kind: 'runtime', range: '^1.0.0' },
            { owner: 'b', kind: 'runtime', range: '^2.0.0' },
          ],
        },
      ],
    });
  });

  test('three demands that meet two by two, and no one release for all', () => {
    const projects = {
      a: { log: '1.0.0 || 2.0.0' },
      b: { log: '2.0.0 || 3.0.0' },
      c: { log: '1.0.0 || 3.0.0' },
    };
    const { certificates } = answer(recordsOf(registry), projects)!;
    expect(certificates.packages).toMatchObject([{ least: 2, proof: 'exhausted' }]);
    expect(certificates.packages[0]!.demands).toHaveLength(3);
  });

  test.each<[string, (good: Certificates) => Certificates, string]>([
    ['left out', (good) => ({ ...good, packages: [] }), 'CERTIFICATE_MISSING'],
    [
      'with demands that meet',
      (good) => edit(good, (demands) => [demands[0]!, demands[0]!]),
      'DEMANDS_MEET',
    ],
    [
      'with a demand nobody makes',
      (good) => edit(good, (demands) => [{ ...demands[0]!, range: '^9.0.0' }, demands[1]!]),
      'DEMAND_UNKNOWN',
    ],
    ['with too few demands', (good) => edit(good, (demands) => [demands[0]!]), 'TOO_FEW_DEMANDS'],
    [
      'of other copies',
      (good) => ({
        ...good,
        packages: good.packages.map((one) => ({ ...one, versions: ['1.0.0', '3.0.0'] })),
      }),
      'VERSIONS_DIFFER',
    ],
    [
      'that takes as given what is free',
      (good) => ({ ...good, given: [{ name: 'log', versions: ['1.0.0', '2.0.0'] }] }),
      'GIVEN_IS_NOT_BOUND',
    ],
    [
      'that claims too much',
      (good) => ({
        ...good,
        packages: good.packages.map((one) => ({ ...one, proof: 'exhausted', least: 3 })),
      }),
      'FEWER_WOULD_DO',
    ],
  ])('a certificate %s is refused', (_, change, fault) => {
    const records = recordsOf(registry);
    const { workspace, resolution, certificates } = answer(records, {
      a: { log: '^1.0.0' },
      b: { log: '^2.0.0' },
    })!;
    const faults = checkCertificates(workspace, records, asOf, resolution, change(certificates));
    expect(faults).toContainEqual({ name: 'log', fault });
  });

  function edit(
    good: Certificates,
    change: (
      demands: Certificates['packages'][number]['demands'],
    ) => Certificates['packages'][number]['demands'],
  ): Certificates {
    return {
      ...good,
      packages: good.packages.map((one) => ({ ...one, demands: change(one.demands) })),
    };
  }
});

describe('needless copies', () => {
  test('held only by the lockfile before', () => {
    const records = recordsOf({ log: { '1.0.0': {}, '1.1.0': {} } });
    const apart = answer(records, { a: { log: '1.0.0' }, b: { log: '1.1.0' } })!;
    const workspace = workspaceOf(filesOf({ a: { log: '^1.0.0' }, b: { log: '1.1.0' } }));
    const before = {
      ...apart.resolution,
      projects: apart.resolution.projects.map((project) => ({
        ...project,
        requirements: project.requirements.map((one) =>
          one.range === '1.0.0' ? { ...one, written: '^1.0.0', range: '^1.0.0' } : one,
        ),
      })),
    };
    const outcome = apart.engine.resolve({ workspace, asOf, before });
    if (outcome.kind !== 'answered') throw new Error(outcome.kind);
    expect(outcome.resolution.copies).toHaveLength(2);
    const certificates = certify(workspace, records, asOf, outcome.resolution);
    expect(certificates.packages).toMatchObject([{ name: 'log', least: 1 }]);
    const needless = needlessCopies(apart.engine, { workspace, asOf }, outcome.resolution);
    expect(needless).toMatchObject([
      { name: 'log', version: '1.0.0', rePicks: [{ name: 'log', from: '1.0.0', to: '1.1.0' }] },
    ]);
    expect(needless[0]!.copiesAfter).toBe(1);
  });

  test('asked for by an owner whose other release asks for less', () => {
    const records = recordsOf({
      web: { '1.0.0': { needs: { log: '^1.0.0' } }, '1.1.0': { needs: { log: '^2.0.0' } } },
      log: { '1.0.0': {}, '2.0.0': {} },
    });
    const found = answer(records, { a: { web: '^1.0.0' }, b: { log: '^1.0.0' } })!;
    expect(found.resolution.copies).toHaveLength(3);
    const [needless, ...more] = needlessCopies(
      found.engine,
      { workspace: found.workspace, asOf },
      found.resolution,
    );
    expect(more).toEqual([]);
    expect(needless).toMatchObject({ name: 'log', version: '2.0.0' });
    expect(needless!.rePicks).toContainEqual({ name: 'web', from: '1.1.0', to: '1.0.0' });
    expect(needless!.copiesAfter).toBe(2);
  });

  test('a copy that asks for itself goes with its pick', () => {
    const records = recordsOf({
      log: { '1.0.0': {}, '2.0.0': { needs: { log: '^2.0.0', web: '*' } } },
      web: { '1.0.0': { needs: { log: '^1.0.0' } } },
    });
    const found = answer(records, { a: { log: '*' } })!;
    expect(found.resolution.copies).toHaveLength(3);
    expect(
      needlessCopies(found.engine, { workspace: found.workspace, asOf }, found.resolution),
    ).toMatchObject([
      {
        name: 'log',
        version: '2.0.0',
        rePicks: [{ name: 'log', from: '2.0.0', to: '1.0.0' }],
        copiesAfter: 1,
      },
    ]);
  });

  test('forced copies are not among them', () => {
    const records = recordsOf({ log: { '1.0.0': {}, '2.0.0': {} } });
    const found = answer(records, { a: { log: '^1.0.0' }, b: { log: '^2.0.0' } })!;
    expect(
      needlessCopies(found.engine, { workspace: found.workspace, asOf }, found.resolution),
    ).toEqual([]);
  });
});
