import { mkdir, rename, stat, writeFile } from 'node:fs/promises';
import { dirname } from 'node:path';

/** Writes a file whole or not at all: beside it first, then renamed over it. Keeps the file's mode. */
export async function replaceFile(path: string, text: string): Promise<void> {
  const mode = await stat(path).then(
    (found) => found.mode & 0o777,
    () => 0o644,
  );
  await mkdir(dirname(path), { recursive: true });
  const beside = `${path}.${process.pid}.new`;
  await writeFile(beside, text, { mode });
  await rename(beside, path);
}
