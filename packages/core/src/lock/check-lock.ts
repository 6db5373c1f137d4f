import type { Resolution } from '../resolve/index.js';
import { lineStarts, positionAt } from '../text/index.js';
import { LOCK_FILE, type Workspace, type WorkspaceFiles } from '../workspace/index.js';
import { LockCheck } from './lock-check.js';
import { lockProblemMessage } from './lock-problem.js';
import type { LockReason } from './lock-reason.js';
import { readLock, type LockReading } from './read-lock.js';

/** Whether a lockfile answers its manifests. */
export interface LockState {
  readonly state: 'consistent' | 'stale' | 'broken';
  /** Empty for `consistent`. */
  readonly reasons: readonly LockReason[];
  /** What the lockfile says; null when it is broken or not there. */
  readonly resolution: Resolution | null;
}

/**
 * Checks the lockfile against the manifests, without a registry.
 * @param reading of the lockfile, where there is one already
 * @param day YYYY-MM-DD: what is answered otherwise only until before it counts no more; null: all of that counts
 * Cost: O(size of both).
 */
export function checkLock(
  workspace: Workspace,
  files: WorkspaceFiles,
  reading?: LockReading,
  day: string | null = null,
): LockState {
  const text = files.get(LOCK_FILE);
  if (text === undefined) {
    const message =
      'There is no ledger.lock yet. Write it with `deep-ledger lock`, or post a draft.';
    return {
      state: 'stale',
      reasons: [
        {
          code: 'LOCK_MISSING',
          about: [],
          message,
          place: { file: LOCK_FILE, line: 1, column: 1 },
        },
      ],
      resolution: null,
    };
  }
  const read = reading ?? readLock(text);
  if (read.kind !== 'read') return brokenState(text, read);
  const reasons = new LockCheck(workspace, files, read, day).run();
  return {
    state: reasons.length === 0 ? 'consistent' : 'stale',
    reasons,
    resolution: read.resolution,
  };
}

function brokenState(text: string, reading: Exclude<LockReading, { kind: 'read' }>): LockState {
  const starts = lineStarts(text);
  const placeAt = (offset: number): LockReason['place'] => ({
    file: LOCK_FILE,
    ...positionAt(starts, offset),
  });
  if (reading.kind === 'broken') {
    const reasons = reading.problems.map((problem) => ({
      code: 'LOCK_UNREADABLE' as const,
      about: [],
      message: lockProblemMessage(problem),
      place: placeAt(problem.span[0]),
    }));
    return { state: 'broken', reasons, resolution: null };
  }
  const message =
    'The lockfile carries the markers of an unfinished merge. Settle the manifests, then run `deep-ledger lock`, which resolves it from both sides.';
  return {
    state: 'broken',
    reasons: [{ code: 'LOCK_CONFLICTED', about: [], message, place: placeAt(reading.span[0]) }],
    resolution: null,
  };
}
