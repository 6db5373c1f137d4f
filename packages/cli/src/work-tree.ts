import { readdir, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { isWorkspaceFile, type WorkspaceFiles } from '@deep-ledger/core';
import { decodeText } from './decode-text.js';

/** Folders that never hold projects and may be very large. */
const SKIPPED = new Set(['.git', 'node_modules']);

/**
 * The workspace's own files in a work tree, by path from its root. Links are not followed.
 * @param onLink is told of links to folders: a project below one is not part of the workspace
 * @throws the file system's error when a folder or file cannot be read
 */
export async function readWorkTree(
  root: string,
  onLink: (path: string) => void = () => undefined,
): Promise<WorkspaceFiles> {
  const files = new Map<string, string>();
  for await (const path of filesUnder(root, '', onLink))
    if (isWorkspaceFile(path)) files.set(path, decodeText(path, await readFile(join(root, path))));
  return new Map([...files].sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Paths of all files, from the root. Links are not followed. @throws the file system's error */
export async function* filesUnder(
  root: string,
  folder = '',
  onLink: (path: string) => void = () => undefined,
): AsyncGenerator<string> {
  for (const entry of await readdir(join(root, folder), { withFileTypes: true })) {
    const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
    if (entry.isDirectory() && !SKIPPED.has(entry.name)) yield* filesUnder(root, path, onLink);
    else if (entry.isFile()) yield path;
    else if (entry.isSymbolicLink()) onLink(path);
  }
}
