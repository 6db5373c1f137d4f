import { checkLock, type LockState } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { Engine, type UnmetPeer } from '../resolve/index.js';
import { alignmentRows, type AlignmentRow } from '../alignment/index.js';
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
  /** Of all packages. */
  readonly rows: readonly AlignmentRow[];
  /** Peers that are not met as things stand. Cost of the first reading: one resolution. */
  readonly unmetPeers: () => readonly UnmetPeer[];
}

/**
 * @param reading of these files, where there is one already
 * @param engine of these records, where there is one already
 */
export function draftBase(
  files: WorkspaceFiles,
  records: PackageRecords,
  today: string,
  reading: WorkspaceReading = readWorkspace(files),
  engine: Engine = new Engine(records),
): DraftBase {
  const { workspace } = reading;
  const lock = workspace === null ? null : checkLock(workspace, files);
  const rows =
    workspace === null ? [] : alignmentRows(workspace, records, lock?.resolution ?? null, today);
  let unmet: readonly UnmetPeer[] | null = null;
  const unmetPeers = (): readonly UnmetPeer[] => {
    unmet ??= workspace === null ? [] : peersNow(engine, workspace, lock, today);
    return unmet;
  };
  return { files, records, engine, today, reading, workspace, lock, rows, unmetPeers };
}

function peersNow(
  engine: Engine,
  workspace: Workspace,
  lock: LockState | null,
  today: string,
): readonly UnmetPeer[] {
  const before = lock?.resolution ?? null;
  const outcome = engine.resolve({ workspace, asOf: today, before });
  return outcome.kind === 'answered' ? outcome.unmetPeers : [];
}
