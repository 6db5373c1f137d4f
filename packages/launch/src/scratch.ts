import { chmod, mkdir, mkdtemp, readdir, rm, stat, statfs, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { execa } from 'execa';

/** Where the kernel keeps files in memory. */
const MEMORY = '/dev/shm';
/** Several times what the tests keep at the same time, in bytes. */
const ROOM = 2 ** 30;
const NAME = 'deep-ledger-test-';

/**
 * A new folder for what the tests of this process make and throw away. In memory where there is room enough and programs
 * may be run: a disk takes up to ten times as long to make a database or a repository.
 * @param clear takes away what a process that was killed has left behind
 */
export async function openScratch(
  clear: (folder: string) => Promise<void>,
  { memory = MEMORY, room = ROOM } = {},
): Promise<string> {
  const isGood = (await hasRoom(memory, room)) && (await mayRun(memory));
  const parent = isGood ? memory : tmpdir();
  for (const folder of await leftBehind(parent)) await clear(folder);
  const folder = join(parent, `${NAME}${process.pid}`);
  await mkdir(folder);
  // The database's own user goes through it; what lies in it is for its owner.
  await chmod(folder, 0o711);
  return folder;
}

async function hasRoom(memory: string, room: number): Promise<boolean> {
  try {
    const { bavail, bsize } = await statfs(memory);
    // What is kept there is taken from the memory of programs.
    return bavail * bsize >= room && process.availableMemory() >= 2 * room;
  } catch {
    return false;
  }
}

/** May programs that lie there be run? Tests put hooks of git there. */
async function mayRun(memory: string): Promise<boolean> {
  let folder: string;
  try {
    folder = await mkdtemp(join(memory, NAME));
  } catch {
    return false;
  }
  try {
    const program = join(folder, 'program');
    await writeFile(program, '#!/bin/sh\n', { mode: 0o700 });
    return (await execa(program, { reject: false })).exitCode === 0;
  } finally {
    await rm(folder, { recursive: true });
  }
}

/** Folders of our own whose process is gone. */
async function leftBehind(parent: string): Promise<readonly string[]> {
  const left: string[] = [];
  for (const name of await readdir(parent)) {
    const pid = new RegExp(`^${NAME}(\\d+)$`).exec(name)?.[1];
    if (pid === undefined || isAlive(Number(pid))) continue;
    const folder = join(parent, name);
    if ((await stat(folder)).uid === process.getuid?.()) left.push(folder);
  }
  return left;
}

function isAlive(pid: number): boolean {
  try {
    process.kill(pid, 0);
    return true;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'EPERM';
  }
}
