import { createServer, type Server, type ServerResponse } from 'node:http';
import { connect, type AddressInfo } from 'node:net';
import { text } from 'node:stream/consumers';
import { brotliCompressSync, deflateSync, gzipSync } from 'node:zlib';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { placeAt } from '@deep-ledger/core';
import { archiveRequests } from './archive-requests.js';
import { registryPort } from './registry-port.js';

const DOCUMENT = JSON.stringify({ name: 'log', releases: [] });

let registry: Server;
let proxy: Server;
let asked: string[];

const portOf = (server: Server): number => (server.address() as AddressInfo).port;
const listening = (server: Server): Promise<void> =>
  new Promise((resolve) => server.listen(0, '127.0.0.1', resolve));

beforeEach(async () => {
  asked = [];
  registry = createServer((_, response) => response.end(DOCUMENT));
  // Leads everybody to the registry, whatever host they ask for.
  proxy = createServer((request, response) => {
    asked.push(request.url!);
    response.end(DOCUMENT);
  });
  proxy.on('connect', (request, client) => {
    asked.push(request.url!);
    const onward = connect(portOf(registry), '127.0.0.1', () => {
      client.write('HTTP/1.1 200 Connection Established\r\n\r\n');
      onward.pipe(client).pipe(onward);
    });
    client.on('error', () => onward.destroy());
    onward.on('error', () => client.destroy());
  });
  await Promise.all([listening(registry), listening(proxy)]);
});
afterEach(async () => {
  vi.unstubAllEnvs();
  for (const server of [registry, proxy]) {
    server.closeAllConnections();
    await new Promise((resolve) => server.close(resolve));
  }
});

const packagesAt = (address: string) =>
  registryPort(placeAt(address), { http: { retries: 0, timeoutMs: 120_000 } }).packages(['log']);

test('a registry is asked through the proxy that the variables name', async () => {
  vi.stubEnv('http_proxy', `http://127.0.0.1:${portOf(proxy)}`);
  const records = await packagesAt('http://registry.example');
  expect(records.get('log')?.name).toBe('log');
  expect(asked).toHaveLength(1);
  expect(asked[0]).toContain('registry.example');
});

test('what NO_PROXY names, and this machine itself, are asked without it', async () => {
  vi.stubEnv('http_proxy', 'http://127.0.0.1:9');
  await packagesAt(`http://127.0.0.1:${portOf(registry)}`);
  await packagesAt(`http://localhost:${portOf(registry)}`);
  vi.stubEnv('http_proxy', `http://127.0.0.1:${portOf(proxy)}`);
  vi.stubEnv('no_proxy', 'registry.example');
  await expect(packagesAt('http://registry.example')).rejects.toThrow(/cannot be reached/);
  expect(asked).toEqual([]);
});

test('archives come through it as well', async () => {
  vi.stubEnv('http_proxy', `http://127.0.0.1:${portOf(proxy)}`);
  const requests = archiveRequests(placeAt('http://registry.example/base'));
  const { status, body } = await requests.ask(
    '/archives/log/1.0.0',
    0,
    new AbortController().signal,
  );
  expect({ status, body: await text(body) }).toEqual({ status: 200, body: DOCUMENT });
  expect(asked).toHaveLength(1);
  expect(asked[0]).toContain('registry.example');
});

test('an archive that is packed on the way is unpacked, in any way that HTTP knows', async () => {
  const packed = {
    gzip: gzipSync(DOCUMENT),
    br: brotliCompressSync(DOCUMENT),
    deflate: deflateSync(DOCUMENT),
    identity: Buffer.from(DOCUMENT),
  };
  for (const [coding, bytes] of Object.entries(packed)) {
    registry.removeAllListeners('request');
    registry.on('request', (_, response: ServerResponse) =>
      response.writeHead(200, { 'content-encoding': coding }).end(bytes),
    );
    const requests = archiveRequests(placeAt(`http://127.0.0.1:${portOf(registry)}`));
    const { body } = await requests.ask('/log', 0, new AbortController().signal);
    expect(await text(body), coding).toBe(DOCUMENT);
  }
});
