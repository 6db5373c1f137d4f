import { spawn } from 'node:child_process';
import { mkdir, mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import type { InstallPlan } from '@deep-ledger/core';
import { Cache } from './cache.js';
import { checkTree } from './check-tree.js';
import { archivesOf } from './fetch-archive.js';
import { install, stateOf } from './install.js';
import { ArchiveServer } from './test/archive-server.js';
import type { Orders } from './test/killed-process.js';
import { planOn, TERMS } from './test/small-plan.js';

const PROCESS = inject('killedProcess');
/** Half a kilobyte each. */
const BLOCKS = [0, 1, 2, 5, 9, 17, 40, 100, 130];

let server: ArchiveServer;
let plan: InstallPlan;

beforeAll(async () => {
  server = await ArchiveServer.start();
  // Hardly to be packed, so that the archive is large as well as what is in it.
  const noise = Array.from({ length: 12_000 }, (_, i) => ((i * 7919) ^ (i * 104_729)).toString(36));
  const files = { 'a.js': noise.join(''), 'b/c.js': noise.join('-'), 'd.js': 'small' };
  plan = await planOn(
    server,
    { log: { needs: ['json'], files }, json: {} },
    { 'apps/web': ['log'] },
  );
});
afterAll(() => server.stop());

/** Runs a process that can write no file beyond a size, as where the disk is full at that byte. */
function limited(orders: Orders, blocks: number): Promise<string> {
  return new Promise((resolve) => {
    const words = `ulimit -f ${blocks}; exec "$0" "$@"`;
    const child = spawn('sh', ['-c', words, process.execPath, PROCESS, JSON.stringify(orders)]);
    let said = '';
    child.stderr.on('data', (chunk: Buffer) => (said += chunk.toString()));
    child.stdout.resume();
    child.on('close', (code, signal) =>
      resolve(code === 0 ? 'done' : `${signal ?? code}: ${said}`),
    );
  });
}

test('a disk that is full at any byte: it fails with a reason, and once there is room the next one ends right', async () => {
  const source = archivesOf({
    address: server.url,
    token: null,
    user: null,
    password: null,
    ca: null,
  });
  for (const blocks of BLOCKS) {
    const folder = await mkdtemp(join(tmpdir(), 'full-'));
    const root = join(folder, 'work');
    await mkdir(join(root, 'apps/web'), { recursive: true });
    const cache = new Cache(join(folder, 'cache'));
    const outcome = await limited(
      { does: 'install', root, cache: cache.folder, plan, url: server.url },
      blocks,
    );
    expect(outcome, `${blocks} blocks`).toMatch(/log 1\.0\.0: .*|json 1\.0\.0: .*/);
    for (const tree of await cache.list()) expect(await cache.faults(tree)).toEqual([]);
    await install(root, cache, plan, TERMS, () => source);
    expect(await checkTree(root, stateOf(plan, TERMS))).toEqual([]);
    await rm(folder, { recursive: true });
  }
}, 120_000);
