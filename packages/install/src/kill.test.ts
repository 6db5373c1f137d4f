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
import { planOn, TERMS, type CopySketch } from './test/small-plan.js';

const PROCESS = inject('killedProcess');
/** Points at which it can be killed, from the first line that it says on. */
const POINTS = { install: 20, clean: 10 };
/** A kill takes seconds, so usually each day tries every third point, and `bin/test --deep` all. */
const EVERY = inject('runs') > 300 ? 1 : 3;
const FIRST = 1 + (inject('seed') % EVERY);
const NAMES = Array.from({ length: 12 }, (_, i) => `part${i}`);
const COPIES: Readonly<Record<string, CopySketch>> = Object.fromEntries(
  NAMES.map((name, i) => [
    name,
    {
      needs: NAMES.slice(0, i),
      files: { 'a.js': name.repeat(3000), 'b/c.js': 'c', 'b/d/e.js': 'e' },
    },
  ]),
);

let server: ArchiveServer;
let plan: InstallPlan;

beforeAll(async () => {
  server = await ArchiveServer.start();
  plan = await planOn(server, COPIES, { 'apps/web': NAMES, 'libs/core': ['part3'] });
});
afterAll(() => server.stop());

/** Starts a process, and kills it once it has said so many lines. @returns how it ended */
function started(orders: Orders, killAt = Infinity): Promise<number | null> {
  return new Promise((resolve) => {
    const child = spawn(process.execPath, [PROCESS, JSON.stringify(orders)], {
      stdio: ['ignore', 'pipe', 'inherit'],
    });
    let lines = 0;
    child.stdout.on('data', (chunk: Buffer) => {
      lines += chunk.toString().split('\n').length - 1;
      if (lines >= killAt) child.kill('SIGKILL');
    });
    child.on('close', resolve);
  });
}

test.each(['install', 'clean'] as const)(
  '%s killed at any point, with an installation at work in the same cache: the next one ends right, and nothing half is used',
  async (does) => {
    const source = archivesOf({
      address: server.url,
      token: null,
      user: null,
      password: null,
      ca: null,
    });
    for (let point = FIRST; point <= POINTS[does]; point += EVERY) {
      const folder = await mkdtemp(join(tmpdir(), 'kill-'));
      const [mine, other] = ['mine', 'other'].map((name) => join(folder, name)) as [string, string];
      for (const root of [mine, other])
        for (const { folder: project } of plan.projects)
          await mkdir(join(root, project), { recursive: true });
      const cache = new Cache(join(folder, 'cache'));
      const orders = { plan, url: server.url, cache: cache.folder };
      // What is cleaned has to be there.
      if (does === 'clean') await install(mine, cache, plan, TERMS, () => source);
      const [, ended] = await Promise.all([
        started({ ...orders, does, root: mine }, point),
        started({ ...orders, does: 'install', root: other }),
      ]);
      expect(ended, `beside one killed at ${point}`).toBe(0);
      await install(mine, cache, plan, TERMS, () => source);
      const wanted = stateOf(plan, TERMS);
      expect(await checkTree(mine, wanted), `after one killed at ${point}`).toEqual([]);
      expect(await checkTree(other, wanted)).toEqual([]);
      for (const tree of await cache.list()) expect(await cache.faults(tree)).toEqual([]);
      await rm(folder, { recursive: true });
    }
  },
);
