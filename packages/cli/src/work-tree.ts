import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import {
  PROJECT_FILE,
  SHAPES_FILE,
  workspaceFileTest,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { TREE_FOLDER } from '@deep-ledger/install';
import { decodeText } from './decode-text.js';

/** Folders that never hold projects and may be very large. */
const SKIPPED = new Set(['.git', 'node_modules', TREE_FOLDER]);

/**
 * The workspace's own files in a work tree, by path from its root. Links are not followed.
 * @param tell gets a sentence for each link that stands where a project or a file of the workspace could be
 * @throws the file system's error when a folder or file cannot be read; UnreadableFile where one is no text
 */
export async function readWorkTree(
  root: string,
  tell: (sentence: string) => void,
): Promise<WorkspaceFiles> {
  const files = new Map<string, string>();
  const links: string[] = [];
  const shapes = await textOrNothing(join(root, SHAPES_FILE));
  const isOfWorkspace = workspaceFileTest(
    shapes === null ? undefined : decodeText(SHAPES_FILE, shapes),
  );
  for await (const path of filesUnder(root, (link) => links.push(link)))
    if (isOfWorkspace(path)) files.set(path, decodeText(path, await readFile(join(root, path))));
  for (const link of links.sort()) {
    if (isOfWorkspace(link))
      tell(`${link}: This file is a link, and links are not followed. Put the file itself here.`);
    else if (await isFile(join(root, link, PROJECT_FILE)))
      tell(
        `${link}: This folder is a link, and links are not followed, so the project in it is not part of the workspace. Put the folder itself here.`,
      );
  }
  return new Map([...files].sort(([a], [b]) => (a < b ? -1 : 1)));
}

/** Paths of all files, from the root. Links are not followed but told. @throws the file system's error */
export async function* filesUnder(
  root: string,
  onLink: (path: string) => void = () => undefined,
  folder = '',
): AsyncGenerator<string> {
  for (const entry of await readdir(join(root, folder), { withFileTypes: true })) {
    const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
    if (entry.isDirectory() && !SKIPPED.has(entry.name)) yield* filesUnder(root, onLink, path);
    else if (entry.isFile()) yield path;
    else if (entry.isSymbolicLink()) onLink(path);
  }
}

async function textOrNothing(path: string): Promise<Buffer | null> {
  try {
    return await readFile(path);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code === 'ENOENT') return null;
    throw error;
  }
}

async function isFile(path: string): Promise<boolean> {
  return stat(path).then(
    (found) => found.isFile(),
    () => false,
  );
}
