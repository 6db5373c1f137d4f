import { promises } from 'node:fs';
import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import { mkdir, mkdtemp, readdir, rm, writeFile } from 'node:fs/promises';
import { syncBuiltinESMExports } from 'node:module';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { placeAt, RegistryError } from '@deep-ledger/core';
import { addressOf, shownAddress } from './address.js';
import { HttpRegistry } from './http-registry.js';
import { registryPort } from './registry-port.js';

const DOCUMENT = {
  name: 'log',
  releases: [
    {
      version: '1.0.0',
      published: '2024-01-01T00:00:00Z',
      archive: { path: '/a', integrity: `sha512-${'A'.repeat(86)}==`, bytes: 1 },
    },
  ],
};

let server: Server;
let folder: string;
let url: string;
let asked: { readonly path: string; readonly headers: IncomingMessage['headers'] }[];
let answer: (request: IncomingMessage, response: ServerResponse) => void;
let atOnce: number;
let most: number;

beforeEach(async () => {
  asked = [];
  [atOnce, most] = [0, 0];
  answer = (_, response) => response.end(JSON.stringify(DOCUMENT));
  server = createServer((request, response) => {
    asked.push({ path: request.url!, headers: request.headers });
    atOnce += 1;
    most = Math.max(most, atOnce);
    response.on('close', () => (atOnce -= 1));
    answer(request, response);
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
  folder = await mkdtemp(join(tmpdir(), 'client-'));
});

afterEach(async () => {
  server.closeAllConnections();
  await new Promise((resolve) => server.close(resolve));
  await rm(folder, { recursive: true });
});

const withPassword = (): string => url.replace('http://', 'http://reader:s%2Fcret@');

test('credentials are taken out of an address, sent along, and shown nowhere', async () => {
  expect(shownAddress(withPassword())).toBe(url);
  expect(addressOf('./folder')).toBeNull();
  await registryPort(placeAt(withPassword())).packages(['log']);
  expect(asked[0]!.headers.authorization).toBe(
    `Basic ${Buffer.from('reader:s/cret').toString('base64')}`,
  );
  answer = (_, response) => response.writeHead(403).end();
  const failing = registryPort(placeAt(withPassword()), { http: { retries: 0 } }).packages(['log']);
  const error = await failing.catch((one: unknown) => one as Error);
  expect(String(error)).toMatch(/wants other credentials \(status 403\)/);
  expect(String(error)).not.toMatch(/cret|reader/);
});

test('credentials do not follow to another place', async () => {
  answer = (_, response) => response.writeHead(302, { location: 'http://127.0.0.1:1/x' }).end();
  const port = registryPort(placeAt(withPassword()), { http: { retries: 0 } });
  await expect(port.packages(['log'])).rejects.toThrow(RegistryError);
  expect(asked).toHaveLength(1);
});

test('so many at once and no more', async () => {
  answer = (_, response) => setImmediate(() => response.end(JSON.stringify(DOCUMENT)));
  const registry = new HttpRegistry(addressOf(url)!, { atOnce: 3 });
  await Promise.all(Array.from({ length: 20 }, () => registry.document('log')));
  expect(most).toBeLessThanOrEqual(3);
  expect(asked).toHaveLength(20);
});

test('what fails for a moment is tried again, nonsense is not', async () => {
  answer = (_, response) =>
    asked.length < 3 ? response.writeHead(500).end() : response.end(JSON.stringify(DOCUMENT));
  expect((await registryPort(placeAt(url)).packages(['log'])).get('log')?.releases).toHaveLength(1);
  expect(asked).toHaveLength(3);
  answer = (_, response) => response.end('<html>');
  await expect(registryPort(placeAt(url)).packages(['log'])).rejects.toThrow(/not JSON/);
  expect(asked).toHaveLength(4);
});

test('a page that is not there is no word of a registry', async () => {
  answer = (_, response) =>
    response.writeHead(404, { 'content-type': 'text/html' }).end('<h1>Not found</h1>');
  await expect(registryPort(placeAt(url)).packages(['log'])).rejects.toThrow(
    /status 404. Is this address/,
  );
});

test('a body without end and an answer that never comes are given up', async () => {
  answer = (_, response) => {
    response.writeHead(200);
    const more = (): unknown => response.write('x'.repeat(65_536), more);
    more();
  };
  const registry = new HttpRegistry(addressOf(url)!, { mostBytes: 1_000_000, retries: 0 });
  await expect(registry.document('log')).rejects.toThrow(/more than 1000000 bytes/);
  answer = () => undefined;
  const silent = new HttpRegistry(addressOf(url)!, { timeoutMs: 50, retries: 0 });
  await expect(silent.document('log')).rejects.toThrow(/cannot be reached/);
});

describe('kept documents', () => {
  test('are asked for by their entity tag, and taken where nothing changed', async () => {
    answer = (request, response) =>
      request.headers['if-none-match'] === '"v1"'
        ? response.writeHead(304).end()
        : response.writeHead(200, { etag: '"v1"' }).end(JSON.stringify(DOCUMENT));
    for (let run = 0; run < 2; run++) {
      const records = await registryPort(placeAt(url), { cacheFolder: folder }).packages(['log']);
      expect(records.get('log')?.releases).toHaveLength(1);
    }
    expect(asked.map(({ headers }) => headers['if-none-match'])).toEqual([undefined, '"v1"']);
  });

  test('are all there is offline; what was never fetched is said', async () => {
    answer = (request, response) =>
      request.url!.endsWith('/gone')
        ? response.writeHead(404, { 'content-type': 'application/problem+json' }).end('{}')
        : response.end(JSON.stringify(DOCUMENT));
    await registryPort(placeAt(url), { cacheFolder: folder }).packages(['log', 'gone']);
    const before = asked.length;
    const offline = registryPort(placeAt(url), { cacheFolder: folder, isOffline: true });
    const records = await offline.packages(['log', 'gone']);
    expect(records.get('log')?.name).toBe('log');
    expect(records.get('gone')).toBeNull();
    await expect(offline.packages(['other'])).rejects.toThrow(/never fetched/);
    expect(asked).toHaveLength(before);
  });

  test('that are torn are fetched again', async () => {
    const port = registryPort(placeAt(url), { cacheFolder: folder });
    await port.packages(['log']);
    const [sub] = await readdir(folder);
    await writeFile(join(folder, sub!, 'log.json'), '{"name":"log","bo');
    expect((await port.packages(['log'])).get('log')?.name).toBe('log');
    expect(asked).toHaveLength(2);
  });
});

describe('a folder of documents', () => {
  test('that is not there is said in one sentence', async () => {
    const port = registryPort(placeAt(join(folder, 'nowhere')));
    await expect(port.packages(['a', 'b'])).rejects.toThrow(/is no folder of registry documents/);
  });
});

describe('files are read a limited number at once,', () => {
  const names = Array.from({ length: 500 }, (_, i) => `p${i}`);
  /** Node's own, which what was loaded before reads with too: the limit of a machine may be far off, and then shows nothing. */
  const { readFile } = promises;
  let reading = 0;
  let mostRead = 0;
  beforeEach(() => {
    [reading, mostRead] = [0, 0];
    promises.readFile = (async (...args: Parameters<typeof readFile>) => {
      reading += 1;
      mostRead = Math.max(mostRead, reading);
      try {
        return await readFile(...args);
      } finally {
        reading -= 1;
      }
    }) as typeof readFile;
    syncBuiltinESMExports();
  });
  afterEach(() => {
    promises.readFile = readFile;
    syncBuiltinESMExports();
  });

  test('those of a folder', async () => {
    const documents = join(folder, 'documents');
    await mkdir(documents);
    for (const name of names)
      await writeFile(join(documents, `${name}.json`), JSON.stringify({ ...DOCUMENT, name }));
    const records = await registryPort(placeAt(documents)).packages([...names, 'missing']);
    expect(records.size).toBe(501);
    expect(records.get('missing')).toBeNull();
    expect(mostRead).toBeGreaterThan(1);
    expect(mostRead).toBeLessThanOrEqual(64);
  });

  test('those that were kept', async () => {
    answer = (request, response) =>
      response.end(JSON.stringify({ ...DOCUMENT, name: request.url!.split('/').at(-1) }));
    await registryPort(placeAt(url), { cacheFolder: folder }).packages(names);
    expect(mostRead).toBeLessThanOrEqual(64);
    const offline = registryPort(placeAt(url), { cacheFolder: folder, isOffline: true });
    const records = await offline.packages(names);
    expect(records.get('p499')?.name).toBe('p499');
    expect(mostRead).toBeGreaterThan(1);
    expect(mostRead).toBeLessThanOrEqual(64);
  });
});
