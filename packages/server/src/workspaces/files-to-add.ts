import { ROOT_FILE, SHAPES_FILE, type WorkspaceFiles } from '@deep-ledger/core';
import type { WorkspaceEntity } from './workspace.entity.js';

/** The files that a repository is read with as long as it has none of ours. */
export function filesToAdd({ bringIn }: Pick<WorkspaceEntity, 'bringIn'>): WorkspaceFiles {
  return bringIn === null
    ? new Map()
    : new Map([
        [ROOT_FILE, bringIn.root],
        [SHAPES_FILE, bringIn.shapes],
      ]);
}
