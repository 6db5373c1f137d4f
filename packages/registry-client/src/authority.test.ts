import { readFile } from 'node:fs/promises';
import { createServer, type Server } from 'node:https';
import type { AddressInfo } from 'node:net';
import { fileURLToPath } from 'node:url';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { placeAt } from '@deep-ledger/core';
import { registryPort } from './registry-port.js';

/** Certificates of a test authority, for 127.0.0.1 alone; they end in a hundred years. */
const at = (file: string): string => fileURLToPath(new URL(`test/${file}`, import.meta.url));

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
let url: string;

beforeAll(async () => {
  const [key, cert] = await Promise.all(
    ['registry-key.pem', 'registry.pem'].map((file) => readFile(at(file))),
  );
  server = createServer({ key, cert }, (_, response) => response.end(JSON.stringify(DOCUMENT)));
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  url = `https://127.0.0.1:${(server.address() as AddressInfo).port}`;
});
afterAll(() => new Promise((resolve) => server.close(resolve)));

function packagesWith(ca: string | null): Promise<ReadonlyMap<string, unknown>> {
  return registryPort({ ...placeAt(url), ca }, { http: { retries: 0 } }).packages(['log']);
}

test('a registry whose certificate an authority of the team has signed is read with that authority', async () => {
  expect((await packagesWith(at('ca.pem'))).get('log')).toMatchObject({ name: 'log' });
});

test('without it, or with another, it is not trusted', async () => {
  await expect(packagesWith(null)).rejects.toThrow(/cannot be reached/);
  await expect(packagesWith(at('registry.pem'))).rejects.toThrow(/cannot be reached/);
});

test('a file of certificates that is not there is named', async () => {
  await expect(packagesWith(at('gone.pem'))).rejects.toThrow(
    /The certificates in .*gone\.pem cannot be read/,
  );
});
