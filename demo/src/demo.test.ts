import { join } from 'node:path';
import { execa } from 'execa';
import { beforeAll, describe, expect, inject, test } from 'vitest';
import {
  checkLock,
  draftBase,
  isOwnFile,
  mergeManifests,
  rangeContains,
  readWorkspace,
  requireRange,
  type DraftBase,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { buildRepository } from './build-repository.js';
import { MAIN } from './history.js';
import { builtDemo, SOURCES, type BuiltDemo } from './test/built-demo.js';

let documents: BuiltDemo['documents'];
let records: BuiltDemo['records'];
let repository: string;
let main: DraftBase;

async function git(...args: readonly string[]): Promise<string> {
  return (await execa('git', args, { cwd: repository })).stdout;
}

async function filesOf(branch: string): Promise<WorkspaceFiles> {
  const paths = (await git('ls-tree', '-r', '--name-only', branch)).split('\n');
  const ours = paths.filter(isOwnFile);
  return new Map(
    await Promise.all(
      ours.map(async (path) => {
        const { stdout } = await execa('git', ['show', `${branch}:${path}`], {
          cwd: repository,
          stripFinalNewline: false,
        });
        return [path, stdout] as const;
      }),
    ),
  );
}

beforeAll(async () => {
  ({ documents, records, repository } = await builtDemo());
  main = draftBase(await filesOf('main'), records, '2026-11-16');
});

test('the repository is the same, byte for byte, each time it is built', async () => {
  const again = join(inject('built'), 'again.git');
  await buildRepository(SOURCES, records, again);
  const heads = async (cwd: string): Promise<string> =>
    (
      await execa('git', ['for-each-ref', '--format=%(refname) %(objectname)'], {
        cwd,
      })
    ).stdout;
  expect(await heads(again)).toBe(await heads(repository));
  expect((await git('rev-list', '--count', 'main')).trim()).toBe(String(MAIN.length));
});

test('there are 17 projects and at least 150 packages, each with 3 to 40 releases of 18 kB to 3 MB', () => {
  expect(main.workspace!.projects).toHaveLength(17);
  expect(main.reading.problems).toEqual([]);
  expect(records.size).toBeGreaterThanOrEqual(150);
  for (const { releases } of records.values()) {
    expect(releases.length).toBeGreaterThanOrEqual(3);
    expect(releases.length).toBeLessThanOrEqual(40);
    for (const { archive } of releases) {
      expect(archive.bytes).toBeGreaterThan(17_600);
      expect(archive.bytes).toBeLessThan(3_000_000);
    }
  }
});

test('whatever a release needs has a release in that range', () => {
  for (const { name, releases } of records.values())
    for (const { needs } of releases)
      for (const need of needs) {
        const range = requireRange(need.range);
        const known = records.get(need.name)?.releases ?? [];
        expect(
          known.some(({ version }) => rangeContains(range, version)),
          `${name} needs ${need.name} ${need.range}`,
        ).toBe(true);
      }
});

test('a third of the releases says what is new, and three packages are under terms', () => {
  const all = documents.flatMap(({ releases }) => releases);
  const share = all.filter(({ notes }) => notes !== undefined).length / all.length;
  expect(share).toBeGreaterThan(0.28);
  expect(share).toBeLessThan(0.39);
  const under = [...records.values()].filter(({ releases }) => releases.at(-1)!.terms !== null);
  expect(under.map(({ name }) => name)).toEqual(['drumlin-maps', 'dale-maps', 'fogbow-charts']);
});

describe('the troubles that the README names are there:', () => {
  const row = (name: string) => main.rows.find((one) => one.name === name)!;

  test('the lockfile of main is consistent', () => {
    expect(main.lock).toMatchObject({ state: 'consistent', reasons: [] });
  });

  test('scree-log at five ranges and more', () => {
    expect(row('scree-log').reaches.length).toBeGreaterThanOrEqual(5);
    expect(row('scree-log')).toMatchObject({ off: 6, agreed: '^2.9.0' });
  });

  test('serac-queue at five ranges with nothing agreed', () => {
    expect(row('serac-queue')).toMatchObject({ agreed: null, off: 5 });
  });

  test('the lockstep set moraine out of step', () => {
    expect([row('moraine-core').off, row('moraine-grid').off, row('moraine-charts').off]).toEqual([
      1, 1, 0,
    ]);
  });

  test('an exception that holds and one that has lapsed', () => {
    expect(row('moraine-forms')).toMatchObject({ exceptions: 1, off: 0 });
    const lapsed = main.workspace!.exceptions.find(({ until }) => until < main.today);
    expect(lapsed).toMatchObject({ project: 'radio-bridge', package: 'cairn-dates' });
  });

  test('two copies of tarn-json that a transitive demand forces, and belay-retry deprecated among its own', () => {
    const copies = main.lock!.resolution!.copies;
    expect(copies.filter(({ name }) => name === 'tarn-json')).toHaveLength(2);
    expect(
      copies.some(({ name, deprecated }) => name === 'belay-retry' && deprecated !== null),
    ).toBe(true);
  });

  test('a release that asks for a newer platform, and one that was withdrawn', () => {
    expect(records.get('scree-log')!.releases.at(-1)!.platform).toEqual([['runtime', '>=22']]);
    expect(
      records.get('pitonhttp')!.releases.find(({ text }) => text === '5.5.1')!.isWithdrawn,
    ).toBe(true);
  });

  test('an optional package that does not exist for one target', () => {
    const native = main.lock!.resolution!.copies.find(({ name }) => name === 'neve-native');
    expect(native!.targets).not.toContain('darwin-arm64');
  });

  test('a pin', () => {
    expect([...main.workspace!.shared.pins.keys()]).toEqual(['rime-headers']);
  });

  test('the branch desk-printer is in conflict with main, over one requirement and the lockfile', async () => {
    const base = (await git('merge-base', 'main', 'desk-printer')).trim();
    const [ours, theirs, before] = await Promise.all(
      ['main', 'desk-printer', base].map((point) => filesOf(point)),
    );
    for (const files of [ours!, theirs!])
      expect(checkLock(readWorkspace(files).workspace!, files).state).toBe('consistent');
    const merged = mergeManifests({ base: before!, ours: ours!, theirs: theirs! });
    expect(merged).toMatchObject({
      kind: 'conflicts',
      conflicts: [{ path: ['needs', 'scree-log'], ours: '"^3.1.0"', theirs: '"~3.0.0"' }],
    });
  });

  test('a stale lockfile on the branch grid-trial', async () => {
    const files = await filesOf('grid-trial');
    expect(checkLock(readWorkspace(files).workspace!, files)).toMatchObject({
      state: 'stale',
      reasons: [{ code: 'REQUIREMENT_CHANGED' }, { code: 'REQUIREMENT_CHANGED' }],
    });
  });
});
