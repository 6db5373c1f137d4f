import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Where the text that is to replace a file is prepared. */
export function besideFile(path: string): string {
  return `${path}.${process.pid}.new`;
}

/** Prepares a text beside the file that it is to replace, with that file's mode. */
export async function writeBeside(path: string, text: string): Promise<void> {
  const mode = await stat(path).then(
    (found) => found.mode & 0o777,
    () => 0o644,
  );
  await mkdir(dirname(path), { recursive: true });
  await writeFile(besideFile(path), text, { mode });
}

/** Writes a file whole or not at all: beside it first, then renamed over it. Keeps the file's mode. */
export async function replaceFile(path: string, text: string): Promise<void> {
  await writeBeside(path, text);
  await rename(besideFile(path), path);
}
