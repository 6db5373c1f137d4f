import { checkLock, readLock, type LockReading, type LockState } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { Engine, type UnmetPeer } from '../resolve/index.js';
import { alignmentRows, type AlignmentRow } from '../alignment/index.js';
import {
  LOCK_FILE,
  readWorkspace,
  type Workspace,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '../workspace/index.js';

/** What drafts are evaluated on: a workspace at one commit, read once. */
export interface DraftBase {
  readonly files: WorkspaceFiles;
  /** Of these, the ones that the repository does not have yet: every draft adds them. */
  readonly unwritten: ReadonlySet<string>;
  readonly records: PackageRecords;
  /** Answers one draft after another from where it stands. */
  readonly engine: Engine;
  /** YYYY-MM-DD: the last day whose releases count, and the day for exceptions. */
  readonly today: string;
  readonly reading: WorkspaceReading;
  readonly workspace: Workspace | null;
  /** What the lockfile's text says; null: there is none. */
  readonly lockReading: LockReading | null;
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
 * @param before the same workspace at another commit: a lockfile that is the same is not read again
 * @param unwritten paths of files that the repository does not have yet
 * Cost: O(size of all files), without the lockfile's where `before` has the same.
 */
export function draftBase(...given: Parameters<typeof draftBaseSteps>): DraftBase {
  const steps = draftBaseSteps(...given);
  for (;;) {
    const step = steps.next();
    if (step.done === true) return step.value;
  }
}

/** The same in steps, for whoever has others to attend to between two of them. */
export function* draftBaseSteps(
  files: WorkspaceFiles,
  records: PackageRecords,
  today: string,
  reading: WorkspaceReading = readWorkspace(files),
  engine: Engine = new Engine(records),
  before: Pick<DraftBase, 'files' | 'lockReading'> | null = null,
  unwritten: ReadonlySet<string> = new Set(),
): Generator<void, DraftBase> {
  const { workspace } = reading;
  const lockReading = lockReadingOf(files, before);
  yield;
  const lock =
    workspace === null ? null : checkLock(workspace, files, lockReading ?? undefined, today);
  yield;
  const rows =
    workspace === null ? [] : alignmentRows(workspace, records, lock?.resolution ?? null, today);
  let unmet: readonly UnmetPeer[] | null = null;
  const unmetPeers = (): readonly UnmetPeer[] => {
    unmet ??= workspace === null ? [] : peersNow(engine, workspace, lock, today);
    return unmet;
  };
  return {
    files,
    unwritten,
    records,
    engine,
    today,
    reading,
    workspace,
    lockReading,
    lock,
    rows,
    unmetPeers,
  };
}

function lockReadingOf(
  files: WorkspaceFiles,
  before: Pick<DraftBase, 'files' | 'lockReading'> | null,
): LockReading | null {
  const text = files.get(LOCK_FILE);
  if (text === undefined) return null;
  const known = before?.files.get(LOCK_FILE) === text ? before.lockReading : null;
  return known ?? readLock(text);
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
