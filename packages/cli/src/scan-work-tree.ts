import { readFile, stat } from 'node:fs/promises';
import { join } from 'node:path';
import {
  gatherUse,
  MOST_SOURCE_BYTES,
  projectOfFile,
  SourceScanner,
  TOO_LARGE,
  type SourceScan,
  type SourceUse,
  type Workspace,
} from '@deep-ledger/core';
import { filesUnder } from './work-tree.js';

/** What the source files of a work tree refer to. @param told how many were read, now and then */
export async function scanWorkTree(
  root: string,
  workspace: Workspace,
  told: (files: number) => void,
): Promise<SourceUse> {
  const scanner = new SourceScanner(workspace.scan);
  const folders = new Set(workspace.projects.map(({ folder }) => folder));
  const scans = new Map<string, SourceScan>();
  for await (const path of filesUnder(root)) {
    const project = projectOfFile(folders, path);
    if (project === null || !scanner.isSource(project.inside)) continue;
    const file = join(root, path);
    const isLarge = (await stat(file)).size > MOST_SOURCE_BYTES;
    scans.set(
      path,
      isLarge ? TOO_LARGE : scanner.scan(project.inside, await readFile(file, 'utf8')),
    );
    if (scans.size % 500 === 0) told(scans.size);
  }
  return gatherUse(workspace.projects, scans);
}
