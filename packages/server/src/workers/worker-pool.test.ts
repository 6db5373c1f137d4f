import { setImmediate } from 'node:timers/promises';
import { afterAll, afterEach, describe, expect, test, vi } from 'vitest';
import { readWorkspace, type WorkspaceFiles } from '@deep-ledger/core';
import * as here from './tasks.worker.js';
import { WorkerPool } from './worker-pool.js';
import { WorkspaceReader } from './workspace-reader.js';

const pool = new WorkerPool();
const run = vi.spyOn(pool, 'run');
afterEach(() => void run.mockClear());
afterAll(() => pool.onModuleDestroy());

const INTEGRITY = `sha512-${Buffer.alloc(64).toString('base64')}`;

/** A workspace of one project with that many requirements, each answered by a copy of its own. */
function workspace(count: number, range = '^1.0.0'): Map<string, string> {
  const names = Array.from({ length: count }, (_, i) => `rope-${String(i).padStart(5, '0')}`);
  return new Map([
    ['ledger.toml', 'format = 1\nname = "w"\nregistry = "main"\nprojects = ["apps/*"]\n'],
    [
      'apps/a/ledger.project.toml',
      ['name = "a"', '[needs]', ...names.map((name) => `${name} = "${range}"`), ''].join('\n'),
    ],
    [
      'ledger.lock',
      [
        'deep-ledger lockfile\nformat 2\n\nproject apps/a\n  name a\n',
        ...names.map((name) => `  runtime ${name} "${range}" by 1.0.0\n`),
        ...names.map(
          (name) =>
            `\ncopy ${name} 1.0.0\n  from main /archives/${name}\n  integrity ${INTEGRITY}\n  targets *\n`,
        ),
      ].join(''),
    ],
  ]);
}

const SIZES = [
  ['short texts, here', 3, 0],
  ['long texts, in a thread', 2_000, 1],
] as const;

describe.each(SIZES)('%s', (_, count, threads) => {
  const before = workspace(count);
  const after = new Map(before).set(
    'apps/a/ledger.project.toml',
    before.get('apps/a/ledger.project.toml')!.replace('"^1.0.0"', '"^1.0.0 <1.5.0"'),
  );

  test('two commits are compared', async () => {
    const task = { before, after };
    const found = await pool.runFor([before, after], 'compareOf', task);
    expect(run).toHaveBeenCalledTimes(threads);
    expect(found).toEqual(here.compareOf(task));
    expect(found.units).toHaveLength(1);
    expect(found.lockBefore).toBe('consistent');
  });

  test('a commit is taken back', async () => {
    const task = { commit: { commit: 'c0ffee', title: 'Narrow' }, before, after };
    const edit = await pool.runFor([before, after], 'takeBackOf', task);
    expect(run).toHaveBeenCalledTimes(threads);
    expect(edit).toEqual(here.takeBackOf(task));
    expect(edit).toMatchObject({ kind: 'take-back', commit: 'c0ffee' });
  });

  test('what both sides changed is found, with who brings it', async () => {
    const theirs = new Map(before).set(
      'apps/a/ledger.project.toml',
      before.get('apps/a/ledger.project.toml')!.replace('"^1.0.0"', '"~1.0.0"'),
    );
    const task = { base: before, ours: after, theirs };
    const found = await pool.runFor(Object.values(task), 'conflictsOf', task);
    expect(run).toHaveBeenCalledTimes(threads);
    expect(found).toEqual(here.conflictsOf(task));
    expect(found).toMatchObject([
      { package: 'rope-00000', chains: [['apps/a', 'rope-00000 1.0.0']] },
    ]);
  });

  test('what merged manifests say of registries is found', async () => {
    const theirs = new Map(after).set(
      'ledger.toml',
      `${before.get('ledger.toml')!}targets = ["linux-x64"]\n`.replace(
        'targets',
        '[platform]\ntargets',
      ),
    );
    const task = { files: { base: before, ours: after, theirs }, decisions: [] };
    const found = await pool.runFor(Object.values(task.files), 'mergedSettings', task);
    expect(run).toHaveBeenCalledTimes(threads);
    expect(found).toEqual(new Map([['ledger.toml', theirs.get('ledger.toml')]]));
  });
});

describe('reading a workspace', () => {
  const reader = new WorkspaceReader(pool);
  const read = (files: WorkspaceFiles) => {
    const { workspace: found, problems } = readWorkspace(files);
    return { workspace: found, problems };
  };

  test('others get their turn while a long manifest is parsed, and it is read as any other', async () => {
    const files = workspace(10_000, '>=1.0.0 <2.0.0');
    let isDone = false;
    let turns = 0;
    const reading = reader.read(files).finally(() => (isDone = true));
    for (; !isDone; turns++) await setImmediate();
    expect(turns).toBeGreaterThan(10);
    expect(await reading).toMatchObject(read(files));
    expect(run).toHaveBeenCalledTimes(1);
  });

  test('what did not change is not read again', async () => {
    const files = workspace(10_000, '>=1.0.0 <2.0.0');
    const before = readWorkspace(files);
    const later = new Map(files).set('apps/b/ledger.project.toml', 'name = "b"\n');
    expect(await reader.read(later, before)).toMatchObject(read(later));
    expect(run).not.toHaveBeenCalled();
  });
});
