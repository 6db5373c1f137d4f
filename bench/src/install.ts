import { execFile } from 'node:child_process';
import { createHash, randomBytes } from 'node:crypto';
import { once } from 'node:events';
import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { promisify } from 'node:util';
import { Worker } from 'node:worker_threads';
import { gzipSync } from 'node:zlib';
import { pack } from 'tar-stream';
import type { InstallPlan, PlannedCopy } from '@deep-ledger/core';
import { archivesOf, Cache, fetchAll, fillCarried, hashFile, install } from '@deep-ledger/install';
import type { LatentServer } from './latent-server.js';

/*
 * Installing beside what the system's own tools take for the same files in the same run. `npm run bench:install`.
 */
const COPIES = 2_000;
const FILES = 40;
const ROUNDS = 3;
/** The first ones are slower: what runs so often is made faster as it runs. */
const FETCH_ROUNDS = 6;
const ARCHIVES = 500;
const ARCHIVE_BYTES = 50_000;
const LATENCY_MS = 20;
const AT_ONCE = 16;
const HASHED_BYTES = 512 * 1024 ** 2;
const TERMS = { lockSum: 'bench', target: null, isDev: true, folder: 'packages' };
const run = promisify(execFile);

const folder = await mkdtemp(join(tmpdir(), 'bench-install-'));
try {
  await layingOut();
  await fetching();
  await hashing();
} finally {
  await rm(folder, { recursive: true, force: true });
}

async function layingOut(): Promise<void> {
  const archives = join(folder, 'archives');
  await mkdir(archives);
  const copies: PlannedCopy[] = [];
  for (let i = 0; i < COPIES; i++) {
    const files = Array.from({ length: FILES }, (_, k): [string, Buffer] => [
      `lib/part-${k % 5}/file-${k}.js`,
      Buffer.from(`${i} ${k} `.repeat(60)),
    ]);
    const bytes = await archiveOf(files);
    await writeFile(join(archives, String(i)), bytes);
    copies.push(planned(i, bytes));
  }
  const plan: InstallPlan = {
    copies,
    projects: [{ folder: 'app', links: copies.map(linkTo) }],
  };
  const cache = new Cache(join(folder, 'cache'));
  const source = archivesOf({
    address: archives,
    token: null,
    user: null,
    password: null,
    ca: null,
  });
  await fetchAll(cache, copies, () => source);
  const [times, again, floors]: [number[], number[], number[]] = [[], [], []];
  for (let round = 0; round < ROUNDS; round++) {
    const root = join(folder, `work-${round}`);
    await mkdir(join(root, 'app'), { recursive: true });
    times.push(await timed(() => install(root, cache, plan, TERMS, null)));
    again.push(await timed(() => install(root, cache, plan, TERMS, null)));
    const copied = join(folder, `copied-${round}`);
    floors.push(await timed(() => run('cp', ['-al', join(root, '.ledger', 'copies'), copied])));
    for (const one of [root, copied]) await rm(one, { recursive: true });
  }
  const floor = Math.min(...floors);
  say(`${COPIES} copies of ${FILES} files, warm cache`, Math.min(...times), floor, 'cp -al', 1.5);
  say('the same once more: nothing to do', Math.min(...again), floor, 'cp -al', 0.1);
  const root = join(folder, 'once');
  await mkdir(join(root, 'app'), { recursive: true });
  const planFile = join(folder, 'plan.json');
  await writeFile(planFile, JSON.stringify(plan));
  const alone = fileURLToPath(new URL('install-once.js', import.meta.url));
  const { stdout: peak } = await run(process.execPath, [alone, root, cache.folder, planFile]);
  process.stdout.write(
    `peak memory of a process that does this alone: ${peak} MiB (at most 300)\n`,
  );
}

async function fetching(): Promise<void> {
  const archives: Buffer[] = [];
  for (let i = 0; i < ARCHIVES; i++)
    archives.push(await archiveOf([['data.bin', randomBytes(ARCHIVE_BYTES)]]));
  const copies = archives.map((archive, i) => planned(i, archive));
  const workerData: LatentServer = { archives, latencyMs: LATENCY_MS };
  const server = new Worker(new URL('latent-server.js', import.meta.url), { workerData });
  const [port] = (await once(server, 'message')) as [number];
  const address = `http://127.0.0.1:${port}`;
  const source = archivesOf({ address, token: null, user: null, password: null, ca: null });
  const ideal = (ARCHIVES / AT_ONCE) * LATENCY_MS;
  const words = `${AT_ONCE} at once at ${LATENCY_MS} ms`;
  // Connections are opened, and code is warm.
  await fillCarried(join(folder, 'first'), copies.slice(0, 50), () => source);
  const [carried, kept, plain]: [number[], number[], number[]] = [[], [], []];
  for (let round = 0; round < FETCH_ROUNDS; round++) {
    const into = join(folder, `carried-${round}`);
    carried.push(await timed(() => fillCarried(into, copies, () => source)));
    const cache = new Cache(join(folder, `fetched-${round}`));
    kept.push(await timed(() => fetchAll(cache, copies, () => source)));
    plain.push(await timed(() => made(join(folder, `plain-${round}`), archives)));
  }
  await server.terminate();
  const shown = (times: readonly number[]): string => times.map(Math.round).join(', ');
  say(`fetching ${ARCHIVES} archives of 50 kB, checked`, Math.min(...carried), ideal, words, 1.5);
  say('the same into the cache, unpacked', Math.min(...kept), ideal, words, 1.5);
  process.stdout.write(
    `  rounds: ${shown(carried)} ms; unpacked ${shown(kept)} ms; its files and folders made plainly ${shown(plain)} ms\n`,
  );
}

/** Makes the files and folders that archives leave in a cache, one after another, and nothing else. */
async function made(into: string, archives: readonly Buffer[]): Promise<void> {
  await mkdir(into);
  for (const [i, archive] of archives.entries()) {
    const own = join(into, String(i));
    await mkdir(join(own, 'files'), { recursive: true });
    await writeFile(join(own, 'files', 'data.bin'), archive);
    await writeFile(join(own, 'list.json'), '{}');
  }
}

async function hashing(): Promise<void> {
  const file = join(folder, 'large');
  await writeFile(file, randomBytes(HASHED_BYTES));
  const hash = (): Promise<unknown> => hashFile(file, 'sha512');
  const rival = (): Promise<unknown> => run('openssl', ['dgst', '-sha512', file]);
  // At first the file that was just written is still on its way to the disk.
  await rival();
  const [times, floors] = [[await timed(hash)], [await timed(rival)]];
  times.push(await timed(hash));
  floors.push(await timed(rival));
  say(
    'hashing 512 MiB as the cache does',
    Math.min(...times),
    Math.min(...floors),
    'openssl dgst -sha512',
    1 / 0.7,
  );
}

function planned(i: number, archive: Buffer): PlannedCopy {
  return {
    folder: `part-${i}`,
    ...{ name: `part-${i}`, version: '1.0.0', registry: 'main', archive: `/${i}` },
    integrity: `sha512-${createHash('sha512').update(archive).digest('base64')}`,
    links: [],
    isOptional: false,
  };
}

function linkTo({ name, folder: to }: PlannedCopy) {
  return { name, to: { kind: 'copy', folder: to } } as const;
}

async function archiveOf(files: readonly (readonly [string, Buffer])[]): Promise<Buffer> {
  const tar = pack();
  for (const [name, content] of files) tar.entry({ name }, content);
  tar.finalize();
  const chunks: Buffer[] = [];
  for await (const chunk of tar) chunks.push(chunk as Buffer);
  return gzipSync(Buffer.concat(chunks), { level: 1 });
}

async function timed(work: () => Promise<unknown>): Promise<number> {
  const start = performance.now();
  await work();
  return performance.now() - start;
}

function say(work: string, ms: number, floor: number, of: string, most: number): void {
  process.stdout.write(
    `${work}: ${Math.round(ms)} ms, ${(ms / floor).toFixed(2)} x ${of} (${Math.round(floor)} ms; at most ${most.toFixed(2)})\n`,
  );
}
