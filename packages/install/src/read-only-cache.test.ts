import { execFile } from 'node:child_process';
import { chmod, mkdir, mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterEach, beforeEach, expect, inject, test } from 'vitest';
import { Cache } from './cache.js';
import { checkTree } from './check-tree.js';
import { archivesOf } from './fetch-archive.js';
import { fetchAll, stateOf } from './install.js';
import { ArchiveServer } from './test/archive-server.js';
import type { Orders } from './test/killed-process.js';
import { planOn, TERMS } from './test/small-plan.js';

const PROCESS = inject('killedProcess');
const run = promisify(execFile);

let server: ArchiveServer;
let folder: string;

beforeEach(async () => {
  server = await ArchiveServer.start();
  folder = await mkdtemp(join(tmpdir(), 'read-only-'));
  await mkdir(join(folder, 'work/apps/web'), { recursive: true });
  for (const path of ['', 'work', 'work/apps', 'work/apps/web'])
    await chmod(join(folder, path), 0o777);
});
afterEach(async () => {
  await run('chmod', ['-R', 'u+w', folder]);
  await rm(folder, { recursive: true });
  await server.stop();
});

/** A cache that others have filled and that nobody may write. */
async function filled(plan: Orders['plan']): Promise<Cache> {
  const cache = new Cache(join(folder, 'cache'));
  const place = { address: server.url, token: null, user: null, password: null, ca: null };
  await fetchAll(cache, plan.copies, () => archivesOf(place));
  await run('chmod', ['-R', 'a-w,a+rX', cache.folder]);
  return cache;
}

async function installed(plan: Orders['plan'], cache: Cache): Promise<void> {
  const orders: Orders = {
    ...{ does: 'install', root: join(folder, 'work'), cache: cache.folder, plan },
    ...{ url: server.url, asNobody: true },
  };
  await run(process.execPath, [PROCESS, JSON.stringify(orders)]);
}

test('a cache that may only be read serves what it has', async () => {
  const plan = await planOn(
    server,
    { log: { needs: ['json'] }, json: {} },
    { 'apps/web': ['log'] },
  );
  const cache = await filled(plan);
  await installed(plan, cache);
  expect(await checkTree(join(folder, 'work'), stateOf(plan, TERMS))).toEqual([]);
});

test('what it lacks is told with what to do, and nothing is laid out', async () => {
  const plan = await planOn(
    server,
    { log: { needs: ['json'] }, json: {} },
    { 'apps/web': ['log'] },
  );
  const cache = await filled({ ...plan, copies: plan.copies.slice(0, 1) });
  await expect(installed(plan, cache)).rejects.toThrow(/The cache cannot be written .*--cache/);
  expect(await readdir(join(folder, 'work/apps/web'))).toEqual([]);
});
