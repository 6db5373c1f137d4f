import {
  changedUnits,
  checkLock,
  explainLockChange,
  isBlocking,
  LOCK_FILE,
  readWorkspace,
  reversalOf,
  type ChangedUnit,
  type Edit,
  type ExplainedLockChange,
  type LockState,
  type WorkspaceFiles,
} from '@deep-ledger/core';

/** The files of a workspace at two commits; none: before the first. */
export interface TwoPoints {
  readonly before: WorkspaceFiles;
  readonly after: WorkspaceFiles;
}

export interface Compared {
  readonly units: readonly ChangedUnit[];
  readonly change: ExplainedLockChange | null;
  readonly lockBefore: LockState['state'];
  readonly lockAfter: LockState['state'];
}

/** Two commits, by meaning. */
export function compareOf({ before, after }: TwoPoints): Compared {
  const [was, is] = [lockOf(before), lockOf(after)];
  const resolution = is?.resolution ?? null;
  return {
    units: changedUnits(before, after),
    change: resolution === null ? null : explainLockChange(was?.resolution ?? null, resolution),
    lockBefore: was?.state ?? 'broken',
    lockAfter: is?.state ?? 'broken',
  };
}

/** The edit that takes a commit back; null: it changed nothing that a manifest or the lockfile says. */
export function takeBackOf({
  commit,
  before,
  after,
}: TwoPoints & {
  readonly commit: { readonly commit: string; readonly title: string };
}): Edit | null {
  return reversalOf(commit, before, after, {
    before: lockOf(before)?.resolution ?? null,
    after: lockOf(after)?.resolution ?? null,
  });
}

/** Null: there is none, or the manifests cannot be read. */
function lockOf(files: WorkspaceFiles): LockState | null {
  const { workspace, problems } = readWorkspace(files);
  const isRead = workspace !== null && !problems.some(isBlocking) && files.has(LOCK_FILE);
  return isRead ? checkLock(workspace, files) : null;
}
