import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { replaceAll } from './replace-all.js';

let folder: string;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'replace-'));
  await writeFile(join(folder, 'a.toml'), 'old');
});
afterEach(() => rm(folder, { recursive: true }));

const CHANGE = { path: 'a.toml', before: 'old', after: 'new' };

async function expectUntouched(...others: readonly string[]): Promise<void> {
  expect((await readdir(folder)).sort()).toEqual(['a.toml', ...others].sort());
  expect(await readFile(join(folder, 'a.toml'), 'utf8')).toBe('old');
}

test('all files are written, new folders among them', async () => {
  await replaceAll(folder, [CHANGE, { path: 'b/c.toml', before: null, after: 'c' }]);
  expect(await readFile(join(folder, 'a.toml'), 'utf8')).toBe('new');
  expect(await readFile(join(folder, 'b/c.toml'), 'utf8')).toBe('c');
  expect((await readdir(folder)).sort()).toEqual(['a.toml', 'b']);
});

test('where one cannot be prepared, none is written', async () => {
  await writeFile(join(folder, 'file'), 'in the way');
  const other = { path: 'file/b.toml', before: null, after: 'b' };
  await expect(replaceAll(folder, [CHANGE, other])).rejects.toThrow();
  await expectUntouched('file');
});

test('where one cannot be put in its place, those before it are put back', async () => {
  await mkdir(join(folder, 'z.toml/full'), { recursive: true });
  const fresh = { path: 'n.toml', before: null, after: 'n' };
  const other = { path: 'z.toml', before: 'z', after: 'b' };
  await expect(replaceAll(folder, [CHANGE, fresh, other])).rejects.toThrow();
  await expectUntouched('z.toml');
});
