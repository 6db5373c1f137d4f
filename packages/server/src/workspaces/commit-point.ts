import {
  checkLock,
  isBlocking,
  LOCK_FILE,
  readWorkspace,
  type LockState,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import type { GitHistory } from '../git/git-history.js';

/** The workspace at a commit, with no registry. */
export interface CommitPoint {
  readonly files: WorkspaceFiles;
  /** Null: there is none, or the manifests cannot be read. */
  readonly lock: LockState | null;
}

/** @param commit null: before the first */
export async function commitPoint(
  history: GitHistory,
  id: string,
  commit: string | null,
): Promise<CommitPoint> {
  const files = commit === null ? new Map<string, string>() : await history.readFiles(id, commit);
  const { workspace, problems } = readWorkspace(files);
  const isRead = workspace !== null && !problems.some(isBlocking) && files.has(LOCK_FILE);
  return { files, lock: isRead ? checkLock(workspace, files) : null };
}
