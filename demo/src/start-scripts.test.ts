import type { AddressInfo } from 'node:net';
import type { Server } from 'node:http';
import { mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { execa } from 'execa';
import { afterAll, beforeAll, expect, test } from 'vitest';
import {
  readLock,
  readPackageRecord,
  type AnsweredRequirement,
  type PackageRecord,
  type Resolution,
} from '@deep-ledger/core';
import { Catalogue, registryApp, type PackageDocument } from '@deep-ledger/registry';
import { buildRepository } from './build-repository.js';
import { expandPackage } from './expand-package.js';
import { PACKAGES } from './packages.js';

const SOURCES = fileURLToPath(new URL('../repository', import.meta.url));
const COMMAND = fileURLToPath(new URL('../../bin/deep-ledger', import.meta.url));

let folder: string;
let clone: string;
let registry: Server;
let lock: Resolution;

beforeAll(async () => {
  const records = new Map<string, PackageRecord>();
  const documents: PackageDocument[] = [];
  for (const line of PACKAGES) {
    const document = await expandPackage(line);
    const reading = readPackageRecord(document);
    if (!reading.ok) throw new Error(reading.problem.message);
    records.set(line.name, reading.record);
    documents.push(document);
  }
  folder = await mkdtemp(join(tmpdir(), 'start-'));
  await buildRepository(SOURCES, records, join(folder, 'a.git'));
  clone = join(folder, 'clone');
  await execa('git', ['clone', '-q', '-b', 'main', join(folder, 'a.git'), clone]);
  const reading = readLock(await readFile(join(clone, 'ledger.lock'), 'utf8'));
  if (reading.kind !== 'read') throw new Error(reading.kind);
  lock = reading.resolution;
  registry = await new Promise((resolve) => {
    const server = registryApp(new Catalogue(documents)).listen(0, '127.0.0.1', () =>
      resolve(server),
    );
  });
});
afterAll(async () => {
  registry.close();
  await rm(folder, { recursive: true, force: true });
});

function ledger(...args: readonly string[]) {
  const { port } = registry.address() as AddressInfo;
  return execa(
    COMMAND,
    [...args, '--registry', `http://127.0.0.1:${port}`, '--target', 'linux-x64'],
    {
      cwd: clone,
      env: { DEEP_LEDGER_CACHE: join(folder, 'cache') },
      reject: false,
    },
  );
}

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
  const stick = join(folder, 'stick');
  const filled = await ledger('fetch', '--into', stick);
  expect(filled.stdout).toMatch(/^\d+ archives fetched .* carry it and install with --from\.$/);
  await rm(join(folder, 'cache'), { recursive: true });
  await rm(join(clone, '.ledger'), { recursive: true });
  const offline = await ledger('install', '--offline');
  expect(offline.exitCode).toBe(2);
  expect(offline.stderr).toContain('The cache does not have it.');
  expect((await ledger('install', '--from', stick)).exitCode).toBe(0);
});

test('the cache says where it is and what it has, notices what was changed, and is cleaned', async () => {
  const cache = (...args: readonly string[]) =>
    execa(COMMAND, ['cache', ...args, '--cache', join(folder, 'cache')], {
      cwd: clone,
      reject: false,
    });
  expect((await cache('where')).stdout).toBe(join(folder, 'cache'));
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
