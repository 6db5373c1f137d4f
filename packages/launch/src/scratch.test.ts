import { spawn } from 'node:child_process';
import { once } from 'node:events';
import { mkdir, mkdtemp, readdir, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { openScratch } from './scratch.js';

let memory: string;
beforeEach(async () => {
  memory = await mkdtemp(join(tmpdir(), 'memory-'));
});
afterEach(() => rm(memory, { recursive: true }));

const clear = (folder: string): Promise<void> => rm(folder, { recursive: true });

test('where there is room, the folder is in memory, empty, and others may go through it', async () => {
  const folder = await openScratch(clear, { memory, room: 1 });
  expect(dirname(folder)).toBe(memory);
  expect(await readdir(memory)).toHaveLength(1);
  expect(await readdir(folder)).toEqual([]);
  expect((await stat(folder)).mode & 0o777).toBe(0o711);
});

test.each([
  ['there is no room', () => ({ memory, room: 2 ** 60 })],
  ['there is no such place', () => ({ memory: join(memory, 'none'), room: 1 })],
])('where %s, it is where files go that are soon gone', async (_, place) => {
  const folder = await openScratch(clear, place());
  expect(dirname(folder)).toBe(tmpdir());
  await clear(folder);
});

test('what a process that was killed has left is cleared away; what belongs to one that runs stays', async () => {
  const ended = spawn('true');
  await once(ended, 'exit');
  const gone = ended.pid!;
  const kept = `deep-ledger-test-${process.ppid}`;
  for (const name of [`deep-ledger-test-${gone}`, kept, 'other-1']) {
    await mkdir(join(memory, name));
    await writeFile(join(memory, name, 'file'), '');
  }
  const cleared: string[] = [];
  const folder = await openScratch(
    async (left) => {
      cleared.push(left);
      await clear(left);
    },
    { memory, room: 1 },
  );
  expect(cleared).toEqual([join(memory, `deep-ledger-test-${gone}`)]);
  expect((await readdir(memory)).map((name) => join(memory, name)).sort()).toEqual(
    [folder, join(memory, kept), join(memory, 'other-1')].sort(),
  );
});
