import { rename, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import type { FileChange } from '@deep-ledger/core';
import { besideFile, writeBeside } from './replace-file.js';

/** Writes all files, or, where one cannot be written, leaves all as they were. */
export async function replaceAll(root: string, changes: readonly FileChange[]): Promise<void> {
  const renamed: FileChange[] = [];
  try {
    for (const { path, after } of changes) await writeBeside(join(root, path), after);
    for (const change of changes) {
      const path = join(root, change.path);
      await rename(besideFile(path), path);
      renamed.push(change);
    }
  } catch (error) {
    for (const { path } of changes) await rm(besideFile(join(root, path)), { force: true });
    for (const { path, before } of renamed) {
      if (before === null) await rm(join(root, path), { force: true });
      else await writeFile(join(root, path), before);
    }
    throw error;
  }
}
