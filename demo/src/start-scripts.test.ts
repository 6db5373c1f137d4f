import { readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { execa } from 'execa';
import { afterAll, beforeAll, expect, test } from 'vitest';
import type { AnsweredRequirement, Resolution } from '@deep-ledger/core';
import { COMMAND, ServedDemo } from './test/served-demo.js';

let demo: ServedDemo;
let clone: string;
let lock: Resolution;

beforeAll(async () => {
  demo = await ServedDemo.start();
  clone = demo.clone;
  lock = await demo.lock();
});
afterAll(() => demo.stop());

const ledger = (...args: readonly string[]) => demo.ledger(...args, '--target', 'linux-x64');

/** What an owner gets by the lockfile, as its start script prints it. */
function answers(requirements: readonly AnsweredRequirement[], depth: number): readonly string[] {
  return requirements
    .filter(({ kind, answer }) => kind === 'runtime' && answer.kind !== 'skipped')
    .map(({ name, answer }) => {
      const owner =
        answer.kind === 'project'
          ? lock.projects.find((one) => one.folder === answer.folder)!
          : lock.copies.find(
              (one) => one.name === name && one.version === (answer as { version: string }).version,
            )!;
      const inner = depth === 0 ? [] : answers(owner.requirements, depth - 1);
      return `${name} ${owner.version}${inner.length === 0 ? '' : ` (${inner.join(', ')})`}`;
    });
}

test('in a clone, what is installed runs: every start script gets just what the lockfile answers it', async () => {
  const installed = await ledger('install');
  expect(installed.stderr).toBe('');
  expect(installed.stdout).toMatch(
    /^\d+ copies installed for 17 projects: \d+ laid out, 0 removed, \d+ fetched/,
  );
  for (const { folder: project, requirements } of lock.projects) {
    const { stdout } = await execa(process.execPath, [join(clone, project, 'start.js')]);
    expect(stdout.split('\n').filter(Boolean).sort(), project).toEqual(
      [...answers(requirements, 1)].sort(),
    );
  }
  // git sees nothing of it.
  expect((await execa('git', ['status', '--porcelain'], { cwd: clone })).stdout).toBe('');
});

test('a second time nothing is done; --check says what was altered; --refetch puts it right', async () => {
  const again = await ledger('install', '--offline');
  // What is laid out is nothing that anybody reads the workspace from.
  expect(again.stderr).toBe('');
  expect(again.stdout).toMatch(/^\d+ copies as the lockfile has them; nothing to do\.$/);
  expect((await ledger('install', '--check')).exitCode).toBe(0);
  const copies = join(clone, '.ledger/copies');
  const scree = (await readdir(copies)).find((name) => name.startsWith('scree-log'))!;
  const file = join(copies, scree, 'node_modules/scree-log/index.js');
  await rm(file);
  await writeFile(file, 'module.exports = {};');
  const checked = await ledger('install', '--check');
  expect(checked.exitCode).toBe(1);
  expect(checked.stdout).toMatch(/^altered {2}scree-log \S+: index\.js was changed\.$/m);
  expect((await ledger('install', '--refetch')).exitCode).toBe(0);
  expect((await ledger('install', '--check')).stdout).toMatch(/copies as the lockfile has them\.$/);
});

test('archives are carried to where there is no network', async () => {
  const stick = join(demo.folder, 'stick');
  const filled = await ledger('fetch', '--into', stick);
  expect(filled.stdout).toMatch(/^\d+ archives fetched .* carry it and install with --from\.$/);
  await rm(join(demo.folder, 'cache'), { recursive: true });
  await rm(join(clone, '.ledger'), { recursive: true });
  const offline = await ledger('install', '--offline');
  expect(offline.exitCode).toBe(2);
  expect(offline.stderr).toContain('The cache does not have it.');
  expect((await ledger('install', '--from', stick)).exitCode).toBe(0);
});

test('the cache says where it is and what it has, notices what was changed, and is cleaned', async () => {
  const cache = (...args: readonly string[]) =>
    execa(COMMAND, ['cache', ...args, '--cache', join(demo.folder, 'cache')], {
      cwd: clone,
      reject: false,
    });
  expect((await cache('where')).stdout).toBe(join(demo.folder, 'cache'));
  expect((await cache('list', 'scree-*')).stdout).toMatch(
    /^package +version +size +last used +lockfile\nscree-log .* here$/m,
  );
  expect((await cache('verify')).stdout).toMatch(/All hold\.$/);
  const { archives } = JSON.parse((await cache('list', '--json')).stdout) as {
    archives: readonly { name: string; isUsedHere: boolean }[];
  };
  expect(archives.every(({ isUsedHere }) => isUsedHere)).toBe(true);
  expect((await cache('clean', 'scree-*')).stdout).toMatch(/archives? removed\.$/);
  expect((await cache('clean', '--unused-for', '1')).stdout).toBe('Nothing to remove.');
});

test('a lockfile that does not answer its manifests is refused', async () => {
  const manifest = join(clone, 'apps/season-web/ledger.project.toml');
  await writeFile(
    manifest,
    (await readFile(manifest, 'utf8')).replace('[needs]\n', '[needs]\nmoon = "^1.0.0"\n'),
  );
  const refused = await ledger('install');
  expect(refused.exitCode).toBe(1);
  expect(refused.stderr).toContain('moon');
  expect(refused.stderr).toContain('ledger.lock is stale. Run deep-ledger lock');
});
