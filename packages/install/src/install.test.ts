import { execFile } from 'node:child_process';
import { randomBytes } from 'node:crypto';
import { statSync } from 'node:fs';
import { createServer } from 'node:http';
import type { AddressInfo } from 'node:net';
import {
  mkdir,
  mkdtemp,
  readdir,
  readFile,
  rm,
  stat,
  symlink,
  utimes,
  writeFile,
} from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { gzipSync } from 'node:zlib';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import type { InstallPlan, RegistryPlace } from '@deep-ledger/core';
import { IN_MEMORY_BYTES } from './arrival.js';
import { Cache, unpackedBytes } from './cache.js';
import { fillCarried } from './carried.js';
import { checkTree } from './check-tree.js';
import { archivesOf, USUAL_FETCHING, type FetchArchive } from './fetch-archive.js';
import { install, stateOf } from './install.js';
import { ArchiveServer } from './test/archive-server.js';
import { planOn, TERMS, type CopySketch } from './test/small-plan.js';
import { readState } from './tree-state.js';

const run = promisify(execFile);
const COPIES: Readonly<Record<string, CopySketch>> = {
  log: { needs: ['json'] },
  json: { files: { 'lib/deep/er.js': 'x', 'bin/tool': '#!/bin/sh\n' } },
  '@crew/kit': { needs: ['log'] },
};
const PROJECTS = { 'apps/web': ['log', '@crew/kit', 'core'], 'libs/core': ['json'] };

let server: ArchiveServer;
let folder: string;
let root: string;
let cache: Cache;

beforeEach(async () => {
  server = await ArchiveServer.start();
  folder = await mkdtemp(join(tmpdir(), 'install-'));
  root = join(folder, 'work');
  cache = new Cache(join(folder, 'cache'));
  for (const project of ['apps/web', 'libs/core', 'services/one'])
    await mkdir(join(root, project), { recursive: true });
});
afterEach(async () => {
  await server.stop();
  await rm(folder, { recursive: true, force: true });
});

function place(address = server.url): RegistryPlace {
  return { address, token: 'secret', user: null, password: null, ca: null };
}

function from(settings = {}): () => FetchArchive {
  const archives = archivesOf(place(), { ...USUAL_FETCHING, firstWaitMs: 1, ...settings });
  return () => archives;
}

const lay = (plan: InstallPlan, terms = TERMS, source: (() => FetchArchive) | null = from()) =>
  install(root, cache, plan, terms, source);

const text = (path: string): Promise<string> => readFile(join(root, path), 'utf8');

describe('a work tree', () => {
  test('gets folders in which each sees what it is answered, and nothing else', async () => {
    const plan = await planOn(server, COPIES, PROJECTS);
    expect(await lay(plan)).toMatchObject({ isUnchanged: false, copies: 3, made: 3, removed: 0 });
    expect(await text('apps/web/packages/log/index.js')).toContain("'log 1.0.0'");
    expect(await text('apps/web/packages/@crew/kit/index.js')).toContain("'@crew/kit 1.0.0'");
    expect((await readdir(join(root, 'apps/web/packages'))).sort()).toEqual([
      '@crew',
      'core',
      'log',
    ]);
    // What a copy needs lies beside it.
    const kit = join(
      root,
      '.ledger/copies',
      plan.copies.find((one) => one.name === '@crew/kit')!.folder,
    );
    expect((await readdir(join(kit, 'packages'))).sort()).toEqual(['@crew', 'log']);
    expect(await readFile(join(kit, 'packages/log/index.js'), 'utf8')).toContain("'log 1.0.0'");
    // Another project of the workspace is itself.
    await writeFile(join(root, 'libs/core/own.js'), 'own');
    expect(await text('apps/web/packages/core/own.js')).toBe('own');
    expect(await text('.ledger/.gitignore')).toBe('*\n');
    const mine = await stat(join(root, 'libs/core/packages/json/lib/deep/er.js'));
    const kept = cache.tree(plan.copies.find((one) => one.name === 'json')!.integrity);
    expect(mine.ino).toBe((await stat(join(kept!.folder, 'lib/deep/er.js'))).ino);
    expect(mine.mode & 0o222).toBe(0);
  });

  test('runs: a runtime that looks into the folder finds what was laid out', async () => {
    const copies: Record<string, CopySketch> = {
      log: {
        needs: ['json'],
        files: { 'index.js': "module.exports = `log on ${require('json')}`;" },
      },
      json: { files: { 'index.js': "module.exports = 'json';" } },
    };
    await lay(await planOn(server, copies, { 'apps/web': ['log'] }), {
      ...TERMS,
      folder: 'node_modules',
    });
    const start = join(root, 'apps/web/start.js');
    await writeFile(start, "console.log(require('log')); require('json');");
    const { stdout, stderr } = await run(process.execPath, [start]).catch(
      (error: { stdout: string; stderr: string }) => error,
    );
    expect(stdout).toBe('log on json\n');
    // It did not require json itself.
    expect(stderr).toContain("Cannot find module 'json'");
  });

  test('is not touched again where nothing changed, and asks nobody', async () => {
    const plan = await planOn(server, COPIES, PROJECTS);
    await lay(plan);
    const asked = server.requests.length;
    expect(await lay(plan, TERMS, null)).toMatchObject({ isUnchanged: true });
    expect(server.requests).toHaveLength(asked);
  });

  test('of a changed plan only what changed is made; what is left over goes, also links of projects', async () => {
    const before = await planOn(server, COPIES, { ...PROJECTS, 'services/one': ['json'] });
    await lay(before);
    const json = join(root, 'apps/web/packages/log');
    const inode = (await stat(join(root, 'libs/core/packages/json/index.js'))).ino;
    const after = await planOn(
      server,
      { ...COPIES, log: { version: '1.1.0', needs: ['json'] } },
      PROJECTS,
    );
    expect(await lay(after)).toMatchObject({ made: 2, removed: 2 });
    expect(await readFile(join(json, 'index.js'), 'utf8')).toContain("'log 1.1.0'");
    expect((await stat(join(root, 'libs/core/packages/json/index.js'))).ino).toBe(inode);
    expect(await readdir(join(root, 'services/one'))).toEqual([]);
    expect(await readdir(join(root, '.ledger/copies'))).toHaveLength(3);
    expect(await readdir(join(root, '.ledger/views'))).toHaveLength(1);
  });

  test('a folder of that name that somebody else made is not replaced', async () => {
    await mkdir(join(root, 'apps/web/packages'));
    await expect(lay(await planOn(server, COPIES, PROJECTS))).rejects.toThrow(
      'apps/web/packages is there already and was not laid out by this.',
    );
    await rm(join(root, 'apps/web/packages'), { recursive: true });
    await symlink('/tmp', join(root, 'libs/core/packages'));
    await expect(lay(await planOn(server, COPIES, PROJECTS))).rejects.toThrow('libs/core/packages');
    expect(await readState(root)).toBeNull();
  });

  test('two installations of two lockfiles at the same time leave one of the two, whole', async () => {
    const one = await planOn(server, COPIES, PROJECTS);
    const two = await planOn(
      server,
      { ...COPIES, log: { version: '1.1.0', needs: ['json'] } },
      PROJECTS,
    );
    await Promise.all([lay(one), lay(two), lay(one)]);
    const state = await readState(root);
    const plan = state!.copies.some(({ version }) => version === '1.1.0') ? two : one;
    expect(await checkTree(root, stateOf(plan, TERMS))).toEqual([]);
  });

  test('from a cache on another file system files are copied', async () => {
    const { dev } = await stat(root);
    const places = ['/dev/shm', '/var/tmp'].filter((place) => statSync(place).dev !== dev);
    const elsewhere = await mkdtemp(join(places[0]!, 'install-'));
    try {
      cache = new Cache(elsewhere);
      const plan = await planOn(server, COPIES, PROJECTS);
      await lay(plan);
      expect((await stat(join(root, 'apps/web/packages/log/index.js'))).nlink).toBe(1);
      expect(await checkTree(root, stateOf(plan, TERMS))).toEqual([]);
    } finally {
      await rm(elsewhere, { recursive: true });
    }
  });

  test('with many copies and very many projects', async () => {
    const integrity = await server.put('/one', [{ name: 'index.js', text: 'x' }]);
    const copies = Array.from({ length: 2000 }, (_, i) => ({
      folder: `p${String(i).padStart(4, '0')}-1.0.0-x`,
      ...{ name: `p${i}`, version: '1.0.0', registry: 'main', archive: '/one', integrity },
      isOptional: false,
      links:
        i === 0
          ? []
          : [
              {
                name: `p${i - 1}`,
                to: { kind: 'copy' as const, folder: `p${String(i - 1).padStart(4, '0')}-1.0.0-x` },
              },
            ],
    }));
    const projects = Array.from({ length: 5000 }, (_, i) => ({
      folder: `apps/a${i}`,
      links: [0, 1]
        .map((k) => copies[(i + k) % 2000]!)
        .map(({ name, folder: to }) => ({ name, to: { kind: 'copy' as const, folder: to } })),
    }));
    for (const { folder: project } of projects)
      await mkdir(join(root, project), { recursive: true });
    const plan = { copies, projects };
    expect(await lay(plan)).toMatchObject({ made: 2000, fetched: { fetched: 1 } });
    expect(await text('apps/a4999/packages/p999/index.js')).toBe('x');
    expect(await text('.ledger/copies/p1999-1.0.0-x/packages/p1998/index.js')).toBe('x');
    expect(await lay(plan, TERMS, null)).toMatchObject({ isUnchanged: true });
  });
});

describe('what is looked at with --check', () => {
  test('is nothing where all is as the lockfile has it, and each fault by itself', async () => {
    const plan = await planOn(server, COPIES, PROJECTS);
    const wanted = stateOf(plan, TERMS);
    expect(await checkTree(root, wanted)).toMatchObject([{ kind: 'not-installed', where: null }]);
    await lay(plan);
    expect(await checkTree(root, wanted)).toEqual([]);
    const own = join(
      root,
      '.ledger/copies',
      plan.copies.find((one) => one.name === 'json')!.folder,
      'packages/json',
    );
    await rm(join(own, 'bin/tool'));
    await writeFile(join(own, 'new.js'), 'new');
    await rm(join(own, 'index.js'));
    await writeFile(join(own, 'index.js'), 'another');
    await writeFile(join(root, 'apps/web/packages/stray'), '');
    await rm(join(root, 'libs/core/packages'));
    await mkdir(join(root, '.ledger/copies/left'));
    const faults = await checkTree(root, wanted);
    expect(faults.map(({ kind, where, says }) => `${kind} ${where}: ${says}`).sort()).toEqual([
      'altered json 1.0.0: bin/tool is missing.',
      'altered json 1.0.0: index.js was changed.',
      'altered json 1.0.0: new.js was added.',
      'altered libs/core: libs/core/packages is not the link that was laid out.',
      'left-over apps/web: stray was put there by somebody else.',
      'left-over null: .ledger/copies/left is left over.',
    ]);
  });

  test('other releases, what is missing and what is no longer required are told by project', async () => {
    await lay(await planOn(server, COPIES, PROJECTS));
    const other = await planOn(
      server,
      { ...COPIES, log: { version: '1.1.0', needs: ['json'] }, sail: {} },
      { 'apps/web': ['log', 'sail'], 'libs/core': ['json'] },
    );
    const faults = await checkTree(root, stateOf(other, TERMS));
    expect(faults.map(({ kind, where, says }) => `${kind} ${where}: ${says}`)).toEqual([
      'other-release apps/web: log is laid out as 1.0.0; the lockfile has 1.1.0.',
      'not-installed apps/web: sail 1.0.0 is not installed.',
      'left-over apps/web: @crew/kit is not required any more.',
      'left-over apps/web: core is not required any more.',
    ]);
  });
});

describe('archives', () => {
  const path = '/archives/log/1.0.0';

  test('that are not what the lockfile has, cut short or missing fail all at once, and nothing is laid out', async () => {
    const plan = await planOn(server, { ...COPIES, sail: {}, mast: {} }, PROJECTS);
    server.faults.set(path, (_, response) => {
      response.end('something else');
      return true;
    });
    server.faults.set('/archives/json/1.0.0', (_, response, bytes) => {
      response.end(bytes.subarray(0, 50));
      return true;
    });
    server.faults.set('/archives/mast/1.0.0', (_, response) => {
      response.writeHead(404).end();
      return true;
    });
    const failed = await lay(plan).catch((error: Error) => error.message);
    expect(String(failed).split('\n')).toEqual([
      expect.stringMatching(
        /^json 1\.0\.0: The archive of json 1\.0\.0 is not what the lockfile has/,
      ),
      expect.stringMatching(
        /^log 1\.0\.0: The archive of log 1\.0\.0 is not what the lockfile has/,
      ),
      expect.stringMatching(/^mast 1\.0\.0: .*has no archive \(status 404\)/),
    ]);
    expect(await readState(root)).toBeNull();
    expect((await cache.list()).map(({ name }) => name)).toEqual(['@crew/kit', 'sail']);
    // Once the registry is well, the rest is fetched alone.
    server.faults.clear();
    expect(await lay(plan)).toMatchObject({ fetched: { fetched: 3 } });
  });

  test('that are only optional are left out where they cannot be had', async () => {
    const plan = await planOn(
      server,
      { ...COPIES, sail: { isOptional: true } },
      { 'apps/web': ['log', 'sail'] },
    );
    server.faults.set('/archives/sail/1.0.0', (_, response) => {
      response.writeHead(404).end();
      return true;
    });
    const done = await lay(plan);
    expect(done.fetched?.skipped).toMatchObject([{ copy: { name: 'sail' } }]);
    expect(await readdir(join(root, 'apps/web/packages'))).toEqual(['log']);
  });

  test.each([
    ['in memory', IN_MEMORY_BYTES / 4],
    ['in a file', IN_MEMORY_BYTES * 3],
  ])(
    'are asked for again where the registry stumbles, and go on where they broke off, %s',
    async (_, size) => {
      const big = randomBytes(size).toString('base64');
      const plan = await planOn(
        server,
        { log: { files: { 'big.bin': big } } },
        { 'apps/web': ['log'] },
      );
      let breakOff = (): void => undefined;
      server.faults.set(path, (_, response, bytes, times) => {
        if (times <= 2) response.writeHead(500).end();
        else if (times === 3) {
          response.writeHead(200, { 'content-length': bytes.length });
          response.write(bytes.subarray(0, bytes.length >> 1));
          breakOff = () => response.destroy();
        } else return false;
        return true;
      });
      const source = from()();
      await lay(plan, TERMS, () => (archive, into, tell) => {
        return source(archive, into, (bytes) => {
          tell(bytes);
          breakOff();
        });
      });
      expect(server.timesAsked(path)).toBe(4);
      expect(server.requests.at(-1)!.headers.range).toMatch(/^bytes=\d+-$/);
      expect(await text('apps/web/packages/log/big.bin')).toBe(big);
      expect(await readdir(join(cache.folder, 'tmp'))).toEqual([]);
    },
  );

  test('are taken from the beginning where the registry has another by now, and nothing is left of the first', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    server.faults.set(path, (_, response, __, times) => {
      if (times === 1) {
        response.writeHead(200, { 'content-length': IN_MEMORY_BYTES * 3 });
        response.write(Buffer.alloc(IN_MEMORY_BYTES * 2), () => response.destroy());
      } else if (times === 2) response.writeHead(416).end();
      else return false;
      return true;
    });
    const folder = join(root, 'carried');
    expect(await fillCarried(folder, plan.copies, from())).toMatchObject({ fetched: 1 });
    expect(await readdir(folder)).toEqual([expect.stringMatching(/^sha512-.*\.tar\.gz$/)]);
  });

  test('of a registry that stays silent fail after a while', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    server.faults.set(path, () => true);
    await expect(lay(plan, TERMS, from({ silenceMs: 50, retries: 1 }))).rejects.toThrow(
      /log 1\.0\.0: .*said nothing for 0\.05 seconds/,
    );
    expect(server.timesAsked(path)).toBe(2);
  });

  test('elsewhere are fetched without what lets one into the registry', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    const seen: (string | undefined)[] = [];
    let bytes: Uint8Array = new Uint8Array();
    const other = createServer((request, response) => {
      seen.push(request.headers.authorization);
      response.end(bytes);
    });
    await new Promise<void>((resolve) => other.listen(0, '127.0.0.1', resolve));
    server.faults.set(path, (_, response, archive) => {
      bytes = archive;
      const { port } = other.address() as AddressInfo;
      response.writeHead(302, { location: `http://localhost:${port}/moved` }).end();
      return true;
    });
    try {
      await lay(plan);
      expect(server.requests[0]!.headers.authorization).toBe('Bearer secret');
      expect(seen).toEqual([undefined]);
    } finally {
      other.close();
    }
  });

  test('that a registry packs once more on the way are unpacked again before they are checked', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    server.faults.set(path, (_, response, bytes) => {
      response.writeHead(200, { 'content-encoding': 'gzip' }).end(gzipSync(bytes));
      return true;
    });
    await lay(plan);
    expect(server.requests[0]!.headers['accept-encoding']).toBe('identity');
    expect(await text('apps/web/packages/log/index.js')).toContain('log 1.0.0');
  });

  test('that are packed in a way which nobody knows are told', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    server.faults.set(path, (_, response, bytes) => {
      response.writeHead(200, { 'content-encoding': 'pressed' }).end(bytes);
      return true;
    });
    await expect(lay(plan, TERMS, from({ retries: 0 }))).rejects.toThrow(
      /log 1\.0\.0: .* packed in a way that was not asked for \(pressed\)/,
    );
  });

  test('offline come from the cache alone; what it lacks is named', async () => {
    const plan = await planOn(server, COPIES, PROJECTS);
    await expect(lay(plan, TERMS, null)).rejects.toThrow(
      '@crew/kit 1.0.0: The cache does not have it.\njson 1.0.0: The cache does not have it.\nlog 1.0.0: The cache does not have it.',
    );
    await lay(plan);
    await rm(join(root, '.ledger'), { recursive: true });
    for (const project of Object.keys(PROJECTS)) await rm(join(root, project, 'packages'));
    await server.stop();
    expect(await lay(plan, TERMS, null)).toMatchObject({ made: 3, fetched: { fetched: 0 } });
    server = await ArchiveServer.start();
  });
});

describe('the cache', () => {
  test('notices a file that was changed, and fetches it again', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    await lay(plan);
    const { integrity } = plan.copies[0]!;
    const tree = cache.tree(integrity)!;
    expect(await cache.faults(tree)).toEqual([]);
    await rm(join(tree.folder, 'index.js'));
    await writeFile(join(tree.folder, 'index.js'), 'mischief');
    expect(await cache.faults(tree)).toEqual(['index.js was changed']);
    expect(await cache.sound(integrity)).toBeNull();
    expect(await install(root, cache, plan, { ...TERMS, lockSum: 'other' }, from())).toMatchObject({
      fetched: { fetched: 1 },
    });
    expect(await cache.faults(cache.tree(integrity)!)).toEqual([]);
  });

  test.each(['', '{"name":"log","ver', '\0\0\0\0'])(
    'fetches again what a power cut left without its list (%j)',
    async (list) => {
      const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
      await lay(plan);
      const tree = cache.tree(plan.copies[0]!.integrity)!;
      await writeFile(join(tree.folder, '..', 'list.json'), list);
      await rm(join(tree.folder, 'index.js'));
      expect(cache.tree(tree.integrity)).toBeNull();
      expect(await cache.list()).toEqual([]);
      await lay(plan, { ...TERMS, lockSum: 'other' });
      expect(await cache.faults(cache.tree(tree.integrity)!)).toEqual([]);
    },
  );

  test('keeps what it has where fetching it again brings something else', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    await lay(plan);
    server.faults.set('/archives/log/1.0.0', (_, response) => {
      response.end('something else');
      return true;
    });
    const again = install(root, cache, plan, TERMS, from(), { isAnew: true });
    await expect(again).rejects.toThrow(/is not what the lockfile has/);
    expect(await cache.faults(cache.tree(plan.copies[0]!.integrity)!)).toEqual([]);
    server.faults.clear();
    expect(await install(root, cache, plan, TERMS, from(), { isAnew: true })).toMatchObject({
      made: 1,
      fetched: { fetched: 1 },
    });
    expect(await checkTree(root, stateOf(plan, TERMS))).toEqual([]);
  });

  test('lists what it has, and lets go of it', async () => {
    await lay(await planOn(server, COPIES, PROJECTS));
    const trees = await cache.list();
    expect(trees.map(({ name, version, files }) => [name, version, files.length])).toEqual([
      ['@crew/kit', '1.0.0', 1],
      ['json', '1.0.0', 3],
      ['log', '1.0.0', 1],
    ]);
    await Promise.all([cache.remove(trees[1]!), cache.remove(trees[1]!)]);
    expect((await cache.list()).map(({ name }) => name)).toEqual(['@crew/kit', 'log']);
    expect(await readdir(join(cache.folder, 'tmp'))).toEqual([]);
  });

  test('is trimmed to a size: what was used longest ago goes first, and what is spared stays', async () => {
    const plan = await planOn(server, COPIES, PROJECTS);
    await lay(plan);
    const trees = await cache.list();
    const used = { log: 3, json: 2, '@crew/kit': 1 } as Readonly<Record<string, number>>;
    for (const { name, folder: files } of trees) {
      const day = new Date(Date.UTC(2025, 0, used[name]!));
      await utimes(join(files, '..', 'list.json'), day, day);
    }
    const left = async (): Promise<readonly string[]> =>
      (await cache.list()).map(({ name }) => name);
    const all = trees.reduce((sum, tree) => sum + unpackedBytes(tree), 0);
    expect(await cache.trim(all, new Set())).toEqual([]);
    const kit = trees.find(({ name }) => name === '@crew/kit')!;
    await cache.trim(all - 1, new Set([kit.integrity]));
    expect(await left()).toEqual(['@crew/kit', 'log']);
    await cache.trim(0, new Set([kit.integrity]));
    expect(await left()).toEqual(['@crew/kit']);
    await cache.trim(0, new Set());
    expect(await left()).toEqual([]);
  });

  test('that cannot be written says so', async () => {
    await writeFile(join(folder, 'file'), '');
    cache = new Cache(join(folder, 'file', 'cache'));
    await expect(lay(await planOn(server, COPIES, PROJECTS))).rejects.toThrow(/ENOTDIR|EEXIST/);
  });

  test('takes what several bring at the same time once, and it is whole', async () => {
    const plan = await planOn(server, COPIES, PROJECTS);
    const trees = ['one', 'two', 'three'].map((name) => join(folder, name));
    for (const tree of trees)
      for (const project of Object.keys(PROJECTS))
        await mkdir(join(tree, project), { recursive: true });
    await Promise.all(trees.map((tree) => install(tree, cache, plan, TERMS, from())));
    for (const tree of trees) expect(await checkTree(tree, stateOf(plan, TERMS))).toEqual([]);
    for (const tree of await cache.list()) expect(await cache.faults(tree)).toEqual([]);
    expect(await readdir(join(cache.folder, 'tmp'))).toEqual([]);
  });

  test('what is hostile never comes in', async () => {
    const plan = await planOn(server, { log: {} }, { 'apps/web': ['log'] });
    const integrity = await server.put(path('log'), [
      { name: 'ok.js', text: 'x' },
      { name: '../../evil', text: 'x' },
    ]);
    const hostile = { ...plan, copies: plan.copies.map((one) => ({ ...one, integrity })) };
    await expect(lay(hostile)).rejects.toThrow(
      /log 1\.0\.0: The archive is refused for its entry "..\/..\/evil"/,
    );
    expect(await cache.list()).toEqual([]);
    expect(await readdir(join(cache.folder, 'tmp'))).toEqual([]);
  });
});

function path(name: string): string {
  return `/archives/${name}/1.0.0`;
}
