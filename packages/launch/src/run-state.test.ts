import { mkdtemp, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { expect, test } from 'vitest';
import { clearRunState, isOurs, readRunState, writeRunState } from './run-state.js';

test('what runs is kept where only its user reads it, found again, and cleared', async () => {
  const folder = await mkdtemp(join(tmpdir(), 'run-'));
  expect(await readRunState(folder)).toBeNull();
  const state = { launcher: 1, parts: [2, 3], url: 'http://127.0.0.1:4600' };
  await writeRunState(folder, state);
  expect(await readRunState(folder)).toEqual(state);
  expect((await stat(join(folder, 'run.json'))).mode & 0o777).toBe(0o600);
  await clearRunState(folder);
  expect(await readRunState(folder)).toBeNull();
  await rm(folder, { recursive: true });
});

test('a process counts as ours only when it is alive and runs from this checkout', async () => {
  expect(await isOurs(process.pid, 'node')).toBe(true);
  expect(await isOurs(process.pid, '/some/other/checkout')).toBe(false);
  expect(await isOurs(2 ** 22 + 1, '')).toBe(false);
});
