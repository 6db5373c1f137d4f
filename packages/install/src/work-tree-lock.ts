import { randomUUID } from 'node:crypto';
import { mkdir, readlink, rename, rm, symlink } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { InstallTrouble } from './install-trouble.js';
import { TREE_FOLDER } from './tree-state.js';

const LOCK = 'lock';
const ASK_MS = 100;
const PATIENCE_MS = 60_000;

/**
 * Does something while no other process lays out the same work tree. A lock whose process is gone is free.
 * @throws InstallTrouble where another one does not end
 */
export async function alone<T>(
  root: string,
  work: () => Promise<T>,
  patienceMs = PATIENCE_MS,
): Promise<T> {
  const file = join(root, TREE_FOLDER, LOCK);
  await mkdir(join(root, TREE_FOLDER), { recursive: true });
  const until = Date.now() + patienceMs;
  while (!(await take(file))) {
    if (Date.now() > until)
      throw new InstallTrouble(
        `Another process lays out this work tree, and does not end. If there is none, delete ${file}.`,
      );
    await setTimeout(ASK_MS);
  }
  try {
    return await work();
  } finally {
    await rm(file, { force: true });
  }
}

/** A link that leads nowhere: unlike a file it is there together with what it says, so that a kill leaves none without. */
async function take(file: string): Promise<boolean> {
  try {
    await symlink(`${hostname()} ${process.pid}`, file);
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  const holder = await readlink(file).catch(() => null);
  if (holder !== null && isGone(holder)) await clear(file, holder);
  return false;
}

/** Takes away the lock of a process that is gone, unless another one has done so and holds it by now. */
async function clear(file: string, holder: string): Promise<void> {
  const aside = `${file}-${randomUUID()}`;
  try {
    await rename(file, aside);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return;
    throw error;
  }
  const taken = await readlink(aside);
  if (taken !== holder) await symlink(taken, file).catch(() => undefined);
  await rm(aside, { force: true });
}

function isGone(holder: string): boolean {
  const [host, pid] = holder.split(' ');
  if (host !== hostname() || pid === undefined) return false;
  try {
    process.kill(Number(pid), 0);
    return false;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ESRCH';
  }
}
