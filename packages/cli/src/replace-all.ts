import { mkdir, rename, rm, stat, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { FileChange } from '@deep-ledger/core';

/** Writes all files, or, where one cannot be written, leaves all as they were. */
export async function replaceAll(root: string, changes: readonly FileChange[]): Promise<void> {
  const beside = (path: string): string => join(root, `${path}.${process.pid}.new`);
  const renamed: FileChange[] = [];
  try {
    for (const { path, after } of changes) {
      const mode = await stat(join(root, path)).then(
        (found) => found.mode & 0o777,
        () => 0o644,
      );
      await mkdir(dirname(join(root, path)), { recursive: true });
      await writeFile(beside(path), after, { mode });
    }
    for (const change of changes) {
      await rename(beside(change.path), join(root, change.path));
      renamed.push(change);
    }
  } catch (error) {
    for (const { path } of changes) await rm(beside(path), { force: true });
    for (const { path, before } of renamed) {
      if (before === null) await rm(join(root, path), { force: true });
      else await writeFile(join(root, path), before);
    }
    throw error;
  }
}
