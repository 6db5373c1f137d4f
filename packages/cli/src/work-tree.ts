import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isWorkspaceFile, type WorkspaceFiles } from '@deep-ledger/core';
import { UnreadableFile } from './unreadable-file.js';

/** Folders that never hold projects and may be very large. */
const SKIPPED = new Set(['.git', 'node_modules']);

/**
 * The workspace's own files in a work tree, by path from its root. Links are not followed.
 * @throws the file system's error when a folder or file cannot be read
 */
export async function readWorkTree(root: string): Promise<WorkspaceFiles> {
  const files = new Map<string, string>();
  const decoder = new TextDecoder('utf-8', { fatal: true, ignoreBOM: true });
  const read = async (path: string): Promise<void> => {
    const bytes = await readFile(join(root, path));
    try {
      files.set(path, decoder.decode(bytes));
    } catch {
      throw new UnreadableFile(`${path} is not UTF-8 text. Save it as UTF-8.`);
    }
  };
  for await (const path of filesUnder(root)) if (isWorkspaceFile(path)) await read(path);
  return new Map([...files].sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Paths of all files, from the root. Links are not followed. @throws the file system's error */
export async function* filesUnder(root: string, folder = ''): AsyncGenerator<string> {
  for (const entry of await readdir(join(root, folder), { withFileTypes: true })) {
    const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
    if (entry.isDirectory() && !SKIPPED.has(entry.name)) yield* filesUnder(root, path);
    else if (entry.isFile()) yield path;
  }
}
