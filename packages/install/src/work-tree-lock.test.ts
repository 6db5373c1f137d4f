import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readdir, rm, symlink } from 'node:fs/promises';
import { hostname, tmpdir } from 'node:os';
import { join } from 'node:path';
import { promisify } from 'node:util';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { TREE_FOLDER } from './tree-state.js';
import { alone } from './work-tree-lock.js';

let root: string;

beforeEach(async () => {
  root = await mkdtemp(join(tmpdir(), 'lock-'));
  await mkdir(join(root, TREE_FOLDER));
});
afterEach(() => rm(root, { recursive: true, force: true }));

/** The id of a process that is over. */
async function gone(): Promise<string> {
  const { stdout } = await promisify(execFile)(process.execPath, ['-p', 'process.pid']);
  return stdout.trim();
}

const heldBy = (pid: string | number, host = hostname()): Promise<void> =>
  symlink(`${host} ${pid}`, join(root, TREE_FOLDER, 'lock'));

test('many at the same time go one after another, also where one that held it is gone', async () => {
  await heldBy(await gone());
  let [inside, most, done] = [0, 0, 0];
  await Promise.all(
    Array.from({ length: 8 }, () =>
      alone(root, async () => {
        most = Math.max(most, ++inside);
        await readdir(root);
        inside--;
        done++;
      }),
    ),
  );
  expect({ most, done }).toEqual({ most: 1, done: 8 });
  expect(await readdir(join(root, TREE_FOLDER))).toEqual([]);
});

test('what a live process holds, or one of another machine, is waited for, and then said', async () => {
  await heldBy(process.pid);
  await expect(alone(root, () => Promise.resolve(), 0)).rejects.toThrow(/does not end/);
  await rm(join(root, TREE_FOLDER, 'lock'));
  await heldBy(1, 'another-machine');
  await expect(alone(root, () => Promise.resolve(), 0)).rejects.toThrow(/delete .*lock/);
});

test('it is free again after work that failed', async () => {
  const failed = alone(root, () => Promise.reject(new Error('no')));
  await expect(failed).rejects.toThrow('no');
  expect(await alone(root, () => Promise.resolve('yes'))).toBe('yes');
});
