import { createHash } from 'node:crypto';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { gunzipSync } from 'node:zlib';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { readPackageRecord } from '@deep-ledger/core';
import { buildArchive } from './build-archive.js';
import { Catalogue, readCatalogue } from './catalogue.js';
import { registryApp } from './registry-app.js';
import type { PackageDocument } from './release-document.js';

async function document(
  name: string,
  versions: readonly string[],
  day: string,
): Promise<PackageDocument> {
  const releases = await Promise.all(
    versions.map(async (version, i) => {
      const { bytes, integrity } = await buildArchive({
        name,
        version,
        summary: `about ${name}`,
        needs: [],
      });
      return {
        version,
        published: `${day}T0${i}:00:00Z`,
        licence: 'MIT',
        needs: {},
        optional: {},
        peers: {},
        platform: {},
        targets: ['*'],
        deprecated: null,
        withdrawn: false,
        archive: { path: `/archives/${name}/${version}`, integrity, bytes: bytes.length },
      };
    }),
  );
  return { name, summary: `about ${name}`, releases };
}

let server: Server;
let url: string;

beforeAll(async () => {
  const catalogue = new Catalogue([
    await document('scree-log', ['1.0.0', '1.1.0'], '2024-02-01'),
    await document('firnstore', ['2.0.0'], '2024-01-01'),
  ]);
  server = await new Promise<Server>((resolve) => {
    const listening = registryApp(catalogue).listen(0, '127.0.0.1', () => resolve(listening));
  });
  url = `http://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => {
  server.closeAllConnections();
  server.close();
});

test('a document is one that the core reads, with an ETag that saves asking again', async () => {
  const first = await fetch(`${url}/packages/scree-log`);
  expect(readPackageRecord(await first.json())).toMatchObject({
    ok: true,
    record: { name: 'scree-log' },
  });
  const etag = first.headers.get('etag')!;
  expect(etag).toMatch(/^"/);
  const again = await fetch(`${url}/packages/scree-log`, { headers: { 'if-none-match': etag } });
  expect(again.status).toBe(304);
});

test('an archive has the sum and size that its document gives', async () => {
  const { releases } = (await (await fetch(`${url}/packages/scree-log`)).json()) as PackageDocument;
  for (const { archive } of releases) {
    const bytes = Buffer.from(await (await fetch(url + archive.path)).arrayBuffer());
    expect(bytes.length).toBe(archive.bytes);
    expect(`sha512-${createHash('sha512').update(bytes).digest('base64')}`).toBe(archive.integrity);
    expect(gunzipSync(bytes).toString('latin1')).toContain('exports.name = "scree-log"');
  }
});

test('an archive has the same bytes each time it is built', async () => {
  const content = { name: 'a', version: '1.0.0', summary: 's', needs: ['b'] };
  expect((await buildArchive(content)).integrity).toBe((await buildArchive(content)).integrity);
  expect((await buildArchive(content)).integrity).not.toBe(
    (await buildArchive({ ...content, version: '1.0.1' })).integrity,
  );
});

test('search goes by words in name and summary', async () => {
  const found = async (query: string): Promise<unknown> =>
    (await fetch(`${url}/packages?query=${query}`)).json();
  expect(await found('LOG')).toMatchObject({
    total: 1,
    page: 1,
    packages: [{ name: 'scree-log', newest: '1.1.0' }],
  });
  expect(await found('log')).toMatchObject({
    packages: [{ published: expect.any(String) as string, licence: expect.anything() as string }],
  });
  expect(await found('about')).toMatchObject({
    total: 2,
    packages: [{ name: 'firnstore' }, { name: 'scree-log' }],
  });
  expect(await found('about+nothing')).toMatchObject({ total: 0, packages: [] });
});

test('changes come oldest first, and a cursor gives those since', async () => {
  const all = (await (await fetch(`${url}/changes`)).json()) as {
    cursor: string;
    changes: object[];
  };
  expect(all).toMatchObject({
    cursor: '3',
    changes: [{ name: 'firnstore' }, { version: '1.0.0' }, { version: '1.1.0' }],
  });
  expect(await (await fetch(`${url}/changes?since=2`)).json()).toMatchObject({
    cursor: '3',
    changes: [{ version: '1.1.0' }],
  });
  expect(await (await fetch(`${url}/changes?since=3`)).json()).toEqual({
    cursor: '3',
    changes: [],
  });
});

test('the interface describes itself', async () => {
  expect(await (await fetch(`${url}/openapi.json`)).json()).toMatchObject({ openapi: '3.1.0' });
});

describe('what is not there is a problem document', () => {
  test.each([
    ['/packages/nothing', 404],
    ['/archives/scree-log/9.9.9', 404],
    ['/nothing', 404],
    ['/changes?since=x', 400],
    ['/packages?page=0', 400],
  ])('%s', async (path, status) => {
    const answer = await fetch(url + path);
    expect(answer.status).toBe(status);
    expect(answer.headers.get('content-type')).toMatch('application/problem+json');
    expect(await answer.json()).toMatchObject({ status });
  });
});

test('a folder of documents is read, and one that is wrong is named with the place', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'registry-'));
  const good = await document('good', ['1.0.0'], '2024-01-01');
  await writeFile(join(folder, 'good.json'), JSON.stringify(good));
  expect((await readCatalogue(folder)).get('good')).toEqual(good);
  await writeFile(
    join(folder, 'bad.json'),
    JSON.stringify({ ...good, releases: [{ version: 'x' }] }),
  );
  await expect(readCatalogue(folder)).rejects.toThrow(/bad\.json, at \/releases\/0\/version: /);
  await rm(folder, { recursive: true });
});
