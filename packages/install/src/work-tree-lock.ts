import { mkdir, open, readFile, rm } from 'node:fs/promises';
import { hostname } from 'node:os';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import { InstallTrouble } from './install-trouble.js';
import { TREE_FOLDER } from './tree-state.js';

const LOCK = 'lock';
const ASK_MS = 100;
const PATIENCE_MS = 60_000;

/**
 * Does something while no other process lays out the same work tree. What a process holds that is gone is free.
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

async function take(file: string): Promise<boolean> {
  try {
    const handle = await open(file, 'wx');
    await handle.writeFile(`${hostname()} ${process.pid}\n`);
    await handle.close();
    return true;
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  }
  const holder = await readFile(file, 'utf8').catch(() => null);
  if (holder !== null && isGone(holder)) await rm(file, { force: true });
  return false;
}

function isGone(holder: string): boolean {
  const [host, pid] = holder.trim().split(' ');
  if (host !== hostname() || pid === undefined) return false;
  try {
    process.kill(Number(pid), 0);
    return false;
  } catch (error) {
    return (error as NodeJS.ErrnoException).code === 'ESRCH';
  }
}
