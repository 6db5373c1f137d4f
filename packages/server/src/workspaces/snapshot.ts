import type { LockState, PackageRecords, PlacedProblem, SheetRow, Workspace, WorkspaceFiles } from '@deep-ledger/core';
import type { CommitInfo } from '../git/git.service.js';
import type { RegistryReading } from '../registry/registry.service.js';

/** A workspace as it stands at one commit, with what its registry says. */
export interface Snapshot {
  readonly head: CommitInfo;
  readonly readAt: Date;
  readonly files: WorkspaceFiles;
  /** Null when `ledger.toml` says nothing that can be used. */
  readonly workspace: Workspace | null;
  readonly problems: readonly PlacedProblem[];
  readonly lock: LockState | null;
  readonly lockSum: string | null;
  readonly records: PackageRecords;
  readonly registry: RegistryReading;
  readonly rows: readonly SheetRow[];
  readonly today: string;
}
