import {
  checkLock,
  compareLocks,
  lockSum,
  printLock,
  type LockChange,
  type LockState,
} from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import { resolve, type Resolution } from '../resolve/index.js';
import { sheetRows } from '../sheet/index.js';
import {
  isBlocking,
  LOCK_FILE,
  placeProblem,
  readWorkspace,
  type PlacedProblem,
  type Workspace,
  type WorkspaceFiles,
} from '../workspace/index.js';
import { applyEdit } from './apply-edit.js';
import type { Edit, EditProblem } from './edit.js';

/** What a draft is evaluated on. */
export interface DraftBase {
  readonly files: WorkspaceFiles;
  readonly records: PackageRecords;
  /** YYYY-MM-DD: the last day whose releases count, and the day for exceptions. */
  readonly today: string;
}

export interface FileChange {
  readonly path: string;
  /** Null: the file is new. */
  readonly before: string | null;
  readonly after: string;
}

/** How the Sheet's figures for one package come out. */
export interface RowOutcome {
  readonly name: string;
  readonly agreed: string | null;
  readonly off: number;
  readonly copies: number;
}

export interface Consequences {
  /** Packages out of line. */
  readonly outOfLine: readonly [before: number, after: number];
  /** Null before: there was no readable lockfile. */
  readonly copies: readonly [before: number | null, after: number];
  readonly change: LockChange;
  /** Hand-written files that change. */
  readonly manifests: number;
  readonly rows: readonly RowOutcome[];
  readonly sum: string;
  /** The lockfile before was not true, so the change holds more than the edits led to. */
  readonly lockBefore: LockState['state'];
}

/** The outcome of a whole draft. Only an `answered` one can be posted. */
export type Evaluation =
  | {
      readonly kind: 'answered';
      readonly changes: readonly FileChange[];
      readonly consequences: Consequences;
      readonly resolution: Resolution;
    }
  | { readonly kind: 'unanswered'; readonly changes: readonly FileChange[]; readonly explanations: readonly (readonly string[])[] }
  | { readonly kind: 'unreadable'; readonly changes: readonly FileChange[]; readonly problems: readonly PlacedProblem[] }
  /** Some edits no longer apply; the list has one entry for each edit. */
  | { readonly kind: 'inapplicable'; readonly problems: readonly (EditProblem | null)[] }
  /** Load these packages and evaluate again. */
  | { readonly kind: 'ask'; readonly names: readonly string[] };

/**
 * Makes all edits in order, resolves the result with the lockfile before, and says what becomes of it.
 * A pure function. Cost: one reading and one resolution of the workspace, and one reading for each edit.
 */
export function evaluateDraft(base: DraftBase, edits: readonly Edit[]): Evaluation {
  const start = readWorkspace(base.files);
  if (start.workspace === null) {
    return { kind: 'unreadable', changes: [], problems: start.problems.map((p) => placeProblem(base.files, p)) };
  }
  const made = makeEdits(start.workspace, base.files, edits);
  if (made.problems.some((problem) => problem !== null)) {
    return { kind: 'inapplicable', problems: made.problems };
  }
  const { files } = made;
  const { workspace, problems } = readWorkspace(files);
  const changes = changedFiles(base.files, files);
  if (workspace === null || problems.some(isBlocking)) {
    return { kind: 'unreadable', changes, problems: problems.map((p) => placeProblem(files, p)) };
  }
  const lockBefore = checkLock(start.workspace, base.files);
  const outcome = resolve({
    workspace,
    records: base.records,
    asOf: base.today,
    before: lockBefore.resolution,
  });
  switch (outcome.kind) {
    case 'ask':
      return outcome;
    case 'unanswered':
      return { kind: 'unanswered', changes, explanations: outcome.unanswered.map((u) => u.sentences) };
    case 'answered': {
      const { resolution } = outcome;
      const lock = printLock(resolution);
      const withLock = changedFiles(base.files, new Map(files).set(LOCK_FILE, lock));
      const rowsBefore = sheetRows(start.workspace, base.records, lockBefore.resolution, base.today);
      const rows = sheetRows(workspace, base.records, resolution, base.today);
      const consequences: Consequences = {
        outOfLine: [rowsBefore.filter(({ off }) => off > 0).length, rows.filter(({ off }) => off > 0).length],
        copies: [lockBefore.resolution?.copies.length ?? null, resolution.copies.length],
        change: compareLocks(lockBefore.resolution, resolution),
        manifests: changes.length,
        rows: rows.map(({ name, agreed, off, copies }) => ({ name, agreed, off, copies })),
        sum: lockSum(lock),
        lockBefore: lockBefore.state,
      };
      return { kind: 'answered', changes: withLock, consequences, resolution };
    }
  }
}

function makeEdits(
  start: Workspace,
  base: WorkspaceFiles,
  edits: readonly Edit[],
): { readonly files: WorkspaceFiles; readonly problems: readonly (EditProblem | null)[] } {
  let files = base;
  let workspace = start;
  const problems = edits.map((edit) => {
    const outcome = applyEdit(workspace, files, edit);
    if (!outcome.ok) return outcome.problem;
    files = outcome.files;
    workspace = readWorkspace(files).workspace ?? workspace;
    return null;
  });
  return { files, problems };
}

/** Files that are new or differ, sorted by path, the lockfile last. */
function changedFiles(before: WorkspaceFiles, after: WorkspaceFiles): readonly FileChange[] {
  return [...after]
    .filter(([path, text]) => before.get(path) !== text)
    .map(([path, text]) => ({ path, before: before.get(path) ?? null, after: text }))
    .sort((a, b) => {
      const isLock = Number(a.path === LOCK_FILE) - Number(b.path === LOCK_FILE);
      return isLock || (a.path < b.path ? -1 : 1);
    });
}
