import { createServer, type Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { mkdtemp, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import type { Arrived } from './arrival.js';
import { archivesOf, USUAL_FETCHING } from './fetch-archive.js';
import type { WantedArchive } from './install.js';
import { digestName, digestOf } from './integrity.js';
import { fromSeveral, mirror, type ArchiveSource } from './several-sources.js';
import { ArchiveServer } from './test/archive-server.js';
import { archiveOf } from './test/archives.js';

let registry: ArchiveServer;
let kept: Server;
/** What the mirror sends, by digest; a number is a status. */
const sends = new Map<string, Buffer | number>();
const asked: string[] = [];
let folder: string;
const told: string[] = [];

beforeEach(async () => {
  registry = await ArchiveServer.start();
  kept = createServer((request, response) => {
    asked.push(request.url!);
    const sent =
      request.headers.authorization === 'Bearer secret'
        ? (sends.get(request.url!.split('/').at(-1)!) ?? 404)
        : 401;
    response.writeHead(typeof sent === 'number' ? sent : 200);
    response.end(typeof sent === 'number' ? '' : sent);
  });
  await new Promise<void>((resolve) => kept.listen(0, '127.0.0.1', resolve));
  folder = await mkdtemp(join(tmpdir(), 'sources-'));
  for (const list of [asked, told]) list.length = 0;
  sends.clear();
});
afterEach(async () => {
  await registry.stop();
  kept.closeAllConnections();
  await new Promise((resolve) => kept.close(resolve));
  await rm(folder, { recursive: true });
});

const mirrorUrl = (): string =>
  `http://127.0.0.1:${(kept.address() as AddressInfo).port}/api/workspaces/small/archives`;

function own(): ArchiveSource {
  const place = { address: registry.url, token: null, user: null, password: null, ca: null };
  const archives = archivesOf(place, { ...USUAL_FETCHING, firstWaitMs: 1, retries: 1 });
  return { name: 'the registry', of: () => archives };
}

async function release(name: string): Promise<{ copy: WantedArchive; bytes: Buffer }> {
  const entries = [{ name: 'index.js', text: name }];
  const integrity = await registry.put(`/${name}`, entries);
  const copy = { name, version: '1.0.0', registry: 'main', archive: `/${name}`, integrity };
  return { copy: { ...copy, isOptional: false }, bytes: await archiveOf(entries) };
}

async function bytesOf(arrived: Arrived): Promise<Buffer> {
  return typeof arrived === 'string' ? readFile(arrived) : arrived;
}

async function fetched(sources: readonly ArchiveSource[], copy: WantedArchive): Promise<Buffer> {
  const file = join(folder, copy.name);
  const from = fromSeveral(sources, (sentence) => told.push(sentence));
  return bytesOf(await from(copy)(copy.archive, file, () => undefined));
}

const digest = ({ integrity }: WantedArchive): string => digestName(digestOf(integrity));

test('the mirror is asked first, by what the lockfile has, and the registry for what it lacks', async () => {
  const [log, json] = [await release('log'), await release('json')];
  sends.set(digest(log.copy), log.bytes);
  const sources = [mirror(mirrorUrl(), 'secret'), own()];
  expect(await fetched(sources, log.copy)).toEqual(log.bytes);
  expect(registry.timesAsked('/log')).toBe(0);
  expect(await fetched(sources, json.copy)).toEqual(json.bytes);
  expect(asked.at(-1)).toBe(`/api/workspaces/small/archives/${digest(json.copy)}`);
  expect(told).toEqual([]);
});

test('what the mirror sends and does not hold comes from the registry', async () => {
  const { copy, bytes } = await release('log');
  sends.set(digest(copy), Buffer.from('something else'));
  expect(await fetched([mirror(mirrorUrl(), 'secret'), own()], copy)).toEqual(bytes);
});

test('a mirror that lets nobody in, or is not there, is told once and left out', async () => {
  const releases = await Promise.all(['log', 'json', 'mast'].map(release));
  const from = fromSeveral([mirror(mirrorUrl(), 'wrong'), own()], (one) => told.push(one));
  for (const { copy, bytes } of releases) {
    const file = join(folder, copy.name);
    const arrived = await from(copy)(copy.archive, file, () => undefined);
    expect(await bytesOf(arrived)).toEqual(bytes);
  }
  expect(asked).toHaveLength(1);
  expect(told).toEqual([
    expect.stringMatching(/^the mirror .*status 401.* It is not asked again\.$/),
  ]);
  told.length = 0;
  const { copy, bytes } = releases[0]!;
  expect(await fetched([mirror('http://127.0.0.1:9/x', null), own()], copy)).toEqual(bytes);
  expect(told).toHaveLength(1);
});

test('with the registry first the mirror has what that one has no more', async () => {
  const { copy, bytes } = await release('log');
  sends.set(digest(copy), bytes);
  registry.faults.set('/log', (_, response) => {
    response.writeHead(404).end();
    return true;
  });
  const sources = [own(), mirror(mirrorUrl(), 'secret')];
  expect(await fetched(sources, copy)).toEqual(bytes);
  sends.clear();
  await expect(fetched(sources, copy)).rejects.toThrow(/the registry: .*404.* the mirror .*404/s);
});
