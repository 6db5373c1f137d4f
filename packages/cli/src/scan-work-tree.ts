import { readdir, readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import {
  gatherUse,
  projectOfFile,
  SourceScanner,
  type SourceScan,
  type SourceUse,
  type Workspace,
} from '@deep-ledger/core';

/** Folders that hold no source of the workspace. */
const SKIPPED = new Set(['.git', 'node_modules']);
/** Larger files were made by a machine. */
const MOST_BYTES = 1 << 20;

/** What the source files of a work tree refer to. @param told how many were read, now and then */
export async function scanWorkTree(
  root: string,
  workspace: Workspace,
  told: (files: number) => void,
): Promise<SourceUse> {
  const scanner = new SourceScanner(workspace.scan);
  const folders = new Set(workspace.projects.map(({ folder }) => folder));
  const scans = new Map<string, SourceScan>();
  const walk = async (folder: string): Promise<void> => {
    for (const entry of await readdir(join(root, folder), { withFileTypes: true })) {
      const path = folder === '' ? entry.name : `${folder}/${entry.name}`;
      if (entry.isDirectory() && !SKIPPED.has(entry.name)) await walk(path);
      const project = entry.isFile() ? projectOfFile(folders, path) : null;
      if (project === null || !scanner.isSource(project.inside)) continue;
      if ((await stat(join(root, path))).size > MOST_BYTES) continue;
      scans.set(path, scanner.scan(project.inside, await readFile(join(root, path), 'utf8')));
      if (scans.size % 500 === 0) told(scans.size);
    }
  };
  await walk('');
  return gatherUse(workspace.projects, scans);
}
