import fc from 'fast-check';
import { describe, expect, test } from 'vitest';
import { rangeContains, requireRange } from '../version/index.js';
import type { PackageRecords, Release } from '../registry/index.js';
import type { Resolution } from './model/resolution.js';
import { resolve, type ResolveInput } from './resolve.js';
import {
  anyAnswerableWorld,
  anyWorld,
  filesOf,
  recordsOf,
  releasesOf,
  shuffled,
  workspaceOf,
  type RegistrySketch,
  type World,
} from './world.arbitrary.js';

const DAY = '2025-01-01';

type Projects = Parameters<typeof filesOf>[0];

function solve(
  registry: RegistrySketch,
  projects: Projects,
  more: Partial<ResolveInput> & { files?: Readonly<Record<string, string>> } = {},
) {
  const { files, ...input } = more;
  return resolve({
    workspace: workspaceOf(filesOf(projects, files)),
    records: recordsOf(registry),
    asOf: DAY,
    before: null,
    ...input,
  });
}

function answered(...args: Parameters<typeof solve>): Resolution {
  const outcome = solve(...args);
  if (outcome.kind !== 'answered') throw new Error(JSON.stringify(outcome));
  return outcome.resolution;
}

function copies(resolution: Resolution): readonly string[] {
  return resolution.copies.map(({ name, version }) => `${name} ${version}`);
}

function solveWorld(world: World, before: Resolution | null = null) {
  return solve(world.registry, world.projects, { before });
}

/** An outcome without the places in files, which do change with the order of lines. */
function withoutPlaces(outcome: ReturnType<typeof solve>): unknown {
  return outcome.kind === 'unanswered'
    ? outcome.unanswered.map(({ sentences }) =>
        sentences.map((sentence) => sentence.replace(/(toml):\d+/, '$1')),
      )
    : outcome;
}

/** Releases that can be used, found by striking out until nothing changes. */
function usable(records: PackageRecords): ReadonlySet<Release> {
  const left = new Set(
    [...records.keys()].flatMap((name) =>
      releasesOf(records, name).filter(
        (release) => !release.isWithdrawn && release.platform.length === 0,
      ),
    ),
  );
  for (let size = -1; size !== left.size;) {
    size = left.size;
    for (const release of left) {
      const serves = ({ name, range }: { name: string; range: string }): boolean =>
        releasesOf(records, name).some(
          (one) => left.has(one) && rangeContains(requireRange(range), one.version),
        );
      if (!release.needs.every(serves)) left.delete(release);
    }
  }
  return left;
}

describe('of random worlds', () => {
  test('there is an answer exactly where every requirement of a project has a usable release', () => {
    fc.assert(
      fc.property(anyWorld, (world) => {
        const records = recordsOf(world.registry);
        const left = usable(records);
        const hasAnswer = Object.values(world.projects).every((needs) =>
          Object.entries(needs).every(([name, range]) =>
            releasesOf(records, name).some(
              (one) => left.has(one) && rangeContains(requireRange(range), one.version),
            ),
          ),
        );
        expect(solveWorld(world).kind).toBe(hasAnswer ? 'answered' : 'unanswered');
      }),
    );
  });

  test('every answer lies in its range, is a copy, and every copy is required', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, (world) => {
        const outcome = solveWorld(world);
        if (outcome.kind !== 'answered') return;
        const { projects, copies: all } = outcome.resolution;
        const there = new Set(all.map(({ name, version }) => `${name} ${version}`));
        const required = new Set<string>();
        for (const { requirements } of [...projects, ...all]) {
          for (const { name, range, answer } of requirements) {
            if (answer.kind !== 'copy') throw new Error('a requirement without a copy');
            const copy = all.find((one) => one.name === name && one.version === answer.version);
            expect(there.has(`${name} ${answer.version}`)).toBe(true);
            expect(rangeContains(requireRange(range!), requireVersionOf(copy!.version))).toBe(true);
            required.add(`${name} ${answer.version}`);
          }
        }
        expect(required).toEqual(there);
      }),
    );
  });

  test('the order of projects, lines, packages and releases changes nothing', () => {
    fc.assert(
      fc.property(anyWorld, (world) => {
        expect(withoutPlaces(solveWorld(shuffled(world)))).toEqual(
          withoutPlaces(solveWorld(world)),
        );
      }),
    );
  });

  test('resolving again with the answers before changes nothing', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, (world) => {
        const outcome = solveWorld(world);
        if (outcome.kind !== 'answered') return;
        expect(solveWorld(world, outcome.resolution)).toEqual(outcome);
      }),
    );
  });

  test('without cycles, no package has more copies than the demands on it force', () => {
    fc.assert(
      fc.property(anyAnswerableWorld, (world) => {
        const straight = withoutCycles(world);
        const outcome = solveWorld(straight);
        if (outcome.kind !== 'answered') return;
        const records = recordsOf(straight.registry);
        const left = usable(records);
        for (const name of new Set(outcome.resolution.copies.map((copy) => copy.name))) {
          const ranges = demandsOn(outcome.resolution, name);
          const candidates = releasesOf(records, name).filter((one) => left.has(one));
          const have = outcome.resolution.copies.filter((copy) => copy.name === name).length;
          expect(have).toBe(fewestBySubsets(ranges, candidates));
        }
      }),
    );
  });
});

function requireVersionOf(text: string) {
  const [major = 0, minor = 0, patch = 0] = text.split('.').map(Number);
  return { major, minor, patch, further: [], prerelease: [], build: [] };
}

/** Keeps only needs of packages that come later in the alphabet. */
function withoutCycles({ registry, projects }: World): World {
  const later = (owner: string, needs: Readonly<Record<string, string>>) =>
    Object.fromEntries(Object.entries(needs).filter(([name]) => name > owner));
  return {
    projects,
    registry: Object.fromEntries(
      Object.entries(registry).map(([name, releases]) => [
        name,
        Object.fromEntries(
          Object.entries(releases).map(([version, sketch]) => [
            version,
            { ...sketch, needs: later(name, sketch.needs ?? {}) },
          ]),
        ),
      ]),
    ),
  };
}

function demandsOn(resolution: Resolution, name: string): readonly string[] {
  return [...resolution.projects, ...resolution.copies]
    .flatMap(({ requirements }) => requirements)
    .filter((requirement) => requirement.name === name)
    .map(({ range }) => range!);
}

function fewestBySubsets(ranges: readonly string[], candidates: readonly Release[]): number {
  let fewest = Infinity;
  for (let mask = 1; mask < 1 << candidates.length; mask++) {
    const subset = candidates.filter((_, i) => (mask & (1 << i)) !== 0);
    const serves = ranges.every((range) =>
      subset.some(({ version }) => rangeContains(requireRange(range), version)),
    );
    if (serves) fewest = Math.min(fewest, subset.length);
  }
  return fewest;
}

describe('by hand:', () => {
  const log = { '1.0.0': {}, '1.1.0': {}, '2.0.0': {}, '2.1.0': {} };

  test('the newest release that meets all demands', () => {
    expect(copies(answered({ log }, { a: { log: '^1.0.0' }, b: { log: '>=1.0.0' } }))).toEqual([
      'log 1.1.0',
    ]);
  });

  test('two copies where two demands clash', () => {
    expect(copies(answered({ log }, { a: { log: '^1.0.0' }, b: { log: '^2.0.0' } }))).toEqual([
      'log 1.1.0',
      'log 2.1.0',
    ]);
  });

  test('a union bridges a clash', () => {
    const projects = {
      a: { log: '1.0.0 || 2.0.0' },
      b: { log: '^2.0.0' },
      c: { log: '<=1.0.0 || 2.0.0' },
    };
    expect(copies(answered({ log }, projects))).toEqual(['log 2.0.0']);
  });

  test('a diamond is closed by one copy', () => {
    const registry = {
      left: { '1.0.0': { needs: { log: '^1.0.0' } } },
      right: { '1.0.0': { needs: { log: '1.0.0' } } },
      log,
    };
    expect(copies(answered(registry, { a: { left: '*', right: '*' } }))).toEqual([
      'left 1.0.0',
      'log 1.0.0',
      'right 1.0.0',
    ]);
  });

  test('caret below 1.0 keeps the minor', () => {
    const registry = { early: { '0.2.0': {}, '0.2.9': {}, '0.3.0': {} } };
    expect(copies(answered(registry, { a: { early: '^0.2.0' } }))).toEqual(['early 0.2.9']);
  });

  test('a prerelease counts only where it is named', () => {
    const registry = { next: { '1.0.0': {}, '1.1.0-rc.1': {}, '1.1.0-rc.2': {} } };
    expect(copies(answered(registry, { a: { next: '>=1.0.0' } }))).toEqual(['next 1.0.0']);
    expect(copies(answered(registry, { a: { next: '>=1.1.0-rc.1' } }))).toEqual([
      'next 1.1.0-rc.2',
    ]);
  });

  test('packages in a cycle are one copy each', () => {
    const registry = {
      hen: { '1.0.0': { needs: { egg: '^1.0.0' } } },
      egg: { '1.0.0': { needs: { hen: '^1.0.0' } } },
    };
    expect(copies(answered(registry, { a: { hen: '*' } }))).toEqual(['egg 1.0.0', 'hen 1.0.0']);
  });

  test('a package may need an older copy of itself', () => {
    const registry = { tool: { '1.0.0': {}, '2.0.0': { needs: { tool: '^1.0.0' } } } };
    expect(copies(answered(registry, { a: { tool: '^2.0.0' } }))).toEqual([
      'tool 1.0.0',
      'tool 2.0.0',
    ]);
  });

  test('a release whose own need has no answer gives way to an older one', () => {
    const registry = {
      web: { '1.0.0': {}, '1.1.0': { needs: { gone: '^1.0.0' } } },
      gone: { '1.0.0': { withdrawn: true } },
    };
    expect(copies(answered(registry, { a: { web: '^1.0.0' } }))).toEqual(['web 1.0.0']);
  });

  test('a deprecated release gives way to one that is not', () => {
    const registry = { web: { '1.0.0': {}, '1.1.0': { deprecated: 'broken' } } };
    expect(copies(answered(registry, { a: { web: '^1.0.0' } }))).toEqual(['web 1.0.0']);
  });

  test('a pin holds wherever the package turns up', () => {
    const registry = { web: { '1.0.0': { needs: { log: '^1.0.0' } } }, log };
    const files = { 'ledger.shared.toml': 'format = 1\n[pins]\nlog = "1.0.0"\n' };
    expect(copies(answered(registry, { a: { web: '*' } }, { files }))).toEqual([
      'log 1.0.0',
      'web 1.0.0',
    ]);
  });

  test('what a demand had stays; a changed demand joins it; refresh lifts it', () => {
    const old = { log: { '1.0.0': {} } };
    const before = answered(old, { a: { log: '^1.0.0' } });
    const projects = { a: { log: '^1.0.0' }, b: { log: '>=1.0.0 <2.0.0 || ^3.0.0' } };
    expect(copies(answered({ log }, projects, { before }))).toEqual(['log 1.0.0']);
    expect(copies(answered({ log }, projects, { before, refresh: new Set(['log']) }))).toEqual([
      'log 1.1.0',
    ]);
    expect(copies(answered({ log }, projects, { before, refresh: 'all' }))).toEqual(['log 1.1.0']);
  });

  test('releases after the day do not count', () => {
    const registry = { log: { '1.0.0': {}, '1.1.0': { published: '2025-06-01T00:00:00Z' } } };
    expect(copies(answered(registry, { a: { log: '*' } }))).toEqual(['log 1.0.0']);
    expect(copies(answered(registry, { a: { log: '*' } }, { asOf: '2025-06-01' }))).toEqual([
      'log 1.1.0',
    ]);
  });

  test('an optional need that cannot be met is skipped with its reason', () => {
    const registry = {
      cache: {
        '1.0.0': {
          optional: {
            native: { range: '^1.0.0', when: ['linux-*'] },
            other: { range: '^1.0.0', when: ['win-*'] },
            lost: '^9.0.0',
          },
        },
      },
      native: { '1.0.0': { targets: ['linux-x64'] } },
      other: { '1.0.0': {} },
      lost: { '1.0.0': {} },
    };
    const { copies: all } = answered(registry, { a: { cache: '*' } });
    expect(all.map(({ name }) => name)).toEqual(['cache', 'native']);
    expect(all[0]!.requirements.map(({ name, answer }) => [name, answer])).toEqual([
      ['lost', { kind: 'skipped', reason: 'no usable release in range' }],
      ['native', { kind: 'copy', version: '1.0.0' }],
      ['other', { kind: 'skipped', reason: 'for none of our targets' }],
    ]);
  });

  test('what is not loaded is asked for', () => {
    const outcome = solve(
      { web: { '1.0.0': { needs: { log: '*' } } } },
      { a: { web: '*', other: '*' } },
    );
    expect(outcome).toEqual({ kind: 'ask', names: ['log', 'other'] });
  });
});

describe('no answer is explained', () => {
  function sentences(
    registry: RegistrySketch,
    projects: Projects,
    absent: readonly string[] = [],
  ): string {
    const records = new Map([
      ...recordsOf(registry),
      ...absent.map((name) => [name, null] as const),
    ]);
    const outcome = solve(registry, projects, { records });
    if (outcome.kind !== 'unanswered') throw new Error(outcome.kind);
    return outcome.unanswered.flatMap((one) => one.sentences).join(' ');
  }

  test.each<[string, RegistrySketch, string, RegExp]>([
    [
      'no release in range',
      { log: { '1.0.0': {}, '1.1.0': {} } },
      '^3.0.0',
      /log has 2 releases from 1\.0\.0 to 1\.1\.0, none of them in \^3\.0\.0\./,
    ],
    [
      'withdrawn',
      { log: { '1.0.0': { withdrawn: true } } },
      '*',
      /log 1\.0\.0 was withdrawn by the publisher\./,
    ],
    [
      'platform',
      { log: { '1.0.0': { platform: { runtime: '>=22' } } } },
      '*',
      /asks for runtime >=22; the workspace's platform offers 20\.0\.0\./,
    ],
    [
      'unknown platform',
      { log: { '1.0.0': { platform: { gpu: '*' } } } },
      '*',
      /asks for gpu \*, which the workspace's platform does not offer\./,
    ],
    [
      'prereleases alone',
      { log: { '1.0.0-rc.1': {} } },
      '>=0.1.0',
      /Only prereleases of log lie in >=0\.1\.0 \(1\.0\.0-rc\.1\)/,
    ],
    [
      'other targets',
      { log: { '1.0.0': { targets: ['linux-x64'] } } },
      '*',
      /log 1\.0\.0 is for other targets than the workspace's\./,
    ],
    [
      'a need below',
      { log: { '1.0.0': { needs: { deep: '^2.0.0' } } }, deep: { '1.0.0': {} } },
      '*',
      /log 1\.0\.0 needs deep \^2\.0\.0, which nothing answers \(1\)\. \(1\) deep has one release, 1\.0\.0, which is not in \^2\.0\.0/,
    ],
  ])('%s', (_, registry, range, pattern) => {
    expect(sentences(registry, { a: { log: range } })).toMatch(pattern);
    expect(sentences(registry, { a: { log: range } })).toMatch(
      /^a\/ledger\.project\.toml:3 requires log/,
    );
  });

  test('a package that the registry does not have', () => {
    expect(sentences({}, { a: { log: '*' } }, ['log'])).toMatch(
      /The registry has no package log\./,
    );
  });

  test('what asks for the same is told together, and a shared step is said once', () => {
    const registry = {
      web: { '1.0.0': { needs: { log: '^2.0.0' } } },
      api: { '1.0.0': { needs: { log: '^2.0.0' } } },
      log: { '1.0.0': {} },
    };
    const outcome = solve(registry, { a: { web: '*' }, b: { api: '*', web: '*' } });
    if (outcome.kind !== 'unanswered') throw new Error(outcome.kind);
    expect(outcome.unanswered.map((one) => one.sentences)).toEqual([
      [
        'a/ledger.project.toml:3 requires web *.',
        'One more requirement asks for the same.',
        'web 1.0.0 needs log ^2.0.0, which nothing answers (1).',
        '(1) log has one release, 1.0.0, which is not in ^2.0.0.',
      ],
      [
        'b/ledger.project.toml:3 requires api *.',
        'api 1.0.0 needs log ^2.0.0, which nothing answers (1).',
      ],
    ]);
  });
});
