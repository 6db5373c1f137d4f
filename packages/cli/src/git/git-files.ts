import { SHAPES_FILE, workspaceFileTest, type WorkspaceFiles } from '@deep-ledger/core';
import { decodeText } from '../decode-text.js';
import { UnreadableFile } from '../unreadable-file.js';
import { git, gitBytes, tryGit } from './git.js';

interface Blob {
  readonly path: string;
  readonly oid: string;
}

/** The workspace's own files in a commit or tree. @throws GitError, UnreadableFile */
export async function filesOfTree(folder: string, tree: string): Promise<WorkspaceFiles> {
  const listed = await git(folder, ['ls-tree', '-r', '-z', '--full-tree', tree]);
  const blobs = listed.split('\0').flatMap((line): Blob[] => {
    const found = /^100\d+ blob (\w+)\t(.*)$/s.exec(line);
    return found === null ? [] : [{ oid: found[1]!, path: found[2]! }];
  });
  return contents(folder, blobs);
}

/** The workspace's own files as they are staged. @throws GitError, UnreadableFile */
export async function stagedFiles(folder: string): Promise<WorkspaceFiles> {
  const listed = await git(folder, ['ls-files', '--stage', '-z', '--full-name', ':/']);
  const unmerged = new Set<string>();
  const blobs = listed.split('\0').flatMap((line): Blob[] => {
    const found = /^100\d+ (\w+) (\d)\t(.*)$/s.exec(line);
    if (found === null) return [];
    const [, oid, stage, path] = found;
    if (stage !== '0') unmerged.add(path!);
    return [{ oid: oid!, path: path! }];
  });
  return contents(folder, blobs, (path) => {
    if (unmerged.has(path))
      throw new UnreadableFile(`${path} is not merged yet. Settle it and add it.`);
  });
}

async function contents(
  folder: string,
  all: readonly Blob[],
  check: (path: string) => void = () => undefined,
): Promise<WorkspaceFiles> {
  const shapes = await textsOf(
    folder,
    all.filter(({ path }) => path === SHAPES_FILE),
  );
  const isOfWorkspace = workspaceFileTest(shapes.get(SHAPES_FILE));
  const blobs = all
    .filter(({ path }) => isOfWorkspace(path))
    .sort((a, b) => (a.path < b.path ? -1 : 1));
  for (const { path } of blobs) check(path);
  return textsOf(folder, blobs);
}

async function textsOf(folder: string, blobs: readonly Blob[]): Promise<WorkspaceFiles> {
  if (blobs.length === 0) return new Map();
  const batch = await gitBytes(folder, ['cat-file', '--batch'], {
    input: blobs.map(({ oid }) => `${oid}\n`).join(''),
  });
  let at = 0;
  const files = new Map<string, string>();
  for (const { path } of blobs) {
    const end = batch.indexOf(10, at);
    const size = Number(batch.subarray(at, end).toString('latin1').split(' ')[2]);
    at = end + 1 + size + 1;
    files.set(path, decodeText(path, batch.subarray(end + 1, end + 1 + size)));
  }
  return files;
}

/** The full name of a commit. @throws UnreadableFile where there is none of that name */
export async function commitNamed(folder: string, name: string): Promise<string> {
  const { code, out } = await tryGit(folder, [
    'rev-parse',
    '--verify',
    '--quiet',
    '--end-of-options',
    `${name}^{commit}`,
  ]);
  if (code !== 0) throw new UnreadableFile(`There is no commit ${name} here.`);
  return out.trim();
}
