import { checkLock, type LockState } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { Engine } from '../resolve/index.js';
import { sheetRows, type SheetRow } from '../sheet/index.js';
import {
  readWorkspace,
  type Workspace,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '../workspace/index.js';

/** What drafts are evaluated on: a workspace at one commit, read once. */
export interface DraftBase {
  readonly files: WorkspaceFiles;
  readonly records: PackageRecords;
  /** Answers one draft after another from where it stands. */
  readonly engine: Engine;
  /** YYYY-MM-DD: the last day whose releases count, and the day for exceptions. */
  readonly today: string;
  readonly reading: WorkspaceReading;
  readonly workspace: Workspace | null;
  /** Null when there is no workspace to check it against. */
  readonly lock: LockState | null;
  readonly rows: readonly SheetRow[];
}

/** @param reading of these files, where there is one already */
export function draftBase(
  files: WorkspaceFiles,
  records: PackageRecords,
  today: string,
  reading: WorkspaceReading = readWorkspace(files),
): DraftBase {
  const { workspace } = reading;
  const lock = workspace === null ? null : checkLock(workspace, files);
  const rows =
    workspace === null ? [] : sheetRows(workspace, records, lock?.resolution ?? null, today);
  return { files, records, engine: new Engine(records), today, reading, workspace, lock, rows };
}
