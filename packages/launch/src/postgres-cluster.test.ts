import { existsSync } from 'node:fs';
import { chmod, mkdtemp, readdir, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { execa } from 'execa';
import getPort from 'get-port';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { PostgresCluster } from './postgres-cluster.js';

let folder: string;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'cluster-'));
});
afterEach(async () => {
  await PostgresCluster.remove(folder);
  await rm(folder, { recursive: true, force: true });
});

function ask(url: string, question: string) {
  return execa('psql', [url, '-Atc', question], { reject: false });
}

// mkdtemp makes folders that the user postgres may not enter, so root takes the other way here.
test.each([
  ['a folder that others may not enter', 0o700],
  ['an open folder', 0o755],
])('in %s: made, listening on loopback alone, with a password that is kept', async (_, mode) => {
  await chmod(folder, mode);
  const cluster = await PostgresCluster.at({ folder, isDurable: false });
  const port = await getPort({ host: '127.0.0.1' });
  await cluster.start(port);
  const { stdout: data } = await ask(cluster.url(port), 'SHOW data_directory');
  try {
    expect((await stat(join(folder, 'postgres-password'))).mode & 0o777).toBe(0o600);
    expect((await ask(cluster.url(port), 'SHOW listen_addresses')).stdout).toBe('127.0.0.1');
    expect((await ask(cluster.url(port), 'SHOW unix_socket_directories')).stdout).toBe('');
    const password = (await readFile(join(folder, 'postgres-password'), 'utf8')).trim();
    expect((await ask(cluster.url(port).replace(password, 'wrong'), 'SELECT 1')).stderr).toMatch(
      /password authentication failed/,
    );
    const again = await PostgresCluster.at({ folder, isDurable: false });
    expect(again.url(port)).toBe(cluster.url(port));
  } finally {
    await cluster.stop();
  }
  expect((await ask(cluster.url(port), 'SELECT 1')).exitCode).not.toBe(0);
  await PostgresCluster.remove(folder);
  expect(await readdir(folder)).toEqual([]);
  if (dirname(data) !== folder) expect(existsSync(dirname(data))).toBe(false);
});
