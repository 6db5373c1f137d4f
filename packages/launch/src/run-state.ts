import { existsSync } from 'node:fs';
import { readFile, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';

/** What a running `bin/start` leaves on disk, so that another call can find and stop it. */
export interface RunState {
  readonly launcher: number;
  readonly parts: readonly number[];
  readonly url: string;
}

const FILE = 'run.json';

export async function writeRunState(folder: string, state: RunState): Promise<void> {
  await writeFile(join(folder, FILE), JSON.stringify(state), { mode: 0o600 });
}

export async function readRunState(folder: string): Promise<RunState | null> {
  const file = join(folder, FILE);
  return existsSync(file) ? (JSON.parse(await readFile(file, 'utf8')) as RunState) : null;
}

export async function clearRunState(folder: string): Promise<void> {
  await rm(join(folder, FILE), { force: true });
}

/** Is a process alive, and one of this checkout's? Process numbers are used again by others. */
export async function isOurs(pid: number, root: string): Promise<boolean> {
  try {
    const line = await readFile(`/proc/${pid}/cmdline`, 'utf8');
    return line.includes(root);
  } catch {
    return false;
  }
}
