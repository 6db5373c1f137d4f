import { lockSum, printLock, readLock, type KnownBlocks, type LockReading } from '../lock/index.js';
import type { PackageRecords } from '../registry/index.js';
import {
  disputedCopies,
  resolve,
  type DisputedCopy,
  type Resolution,
  type Unanswered,
  type UnmetPeer,
} from '../resolve/index.js';
import {
  isBlocking,
  LOCK_FILE,
  placeProblems,
  readWorkspace,
  SHAPES_FILE,
  shapesIn,
  workspaceFileTest,
  type PlacedProblem,
  type Workspace,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '../workspace/index.js';
import { mergeAnswers } from './merge-answers.js';
import { mergeFile } from './merge-file.js';
import {
  mergeManifest,
  type ManifestConflict,
  type ManifestMerge,
  type Settle,
  type ThreeTexts,
} from './merge-manifest.js';

export interface MergeInput {
  readonly base: WorkspaceFiles;
  readonly ours: WorkspaceFiles;
  readonly theirs: WorkspaceFiles;
  readonly records: PackageRecords;
  /** YYYY-MM-DD: the last day whose releases count. */
  readonly asOf: string;
  /** Of any of the sides, where there is one: manifests that come out as there are not parsed again. */
  readonly reading?: WorkspaceReading;
  /** Decides what both sides changed differently. */
  readonly settle?: Settle;
}

export type MergeOutcome =
  | {
      readonly kind: 'merged';
      /** All files of the workspace, the lockfile included. */
      readonly files: WorkspaceFiles;
      readonly resolution: Resolution;
      readonly unmetPeers: readonly UnmetPeer[];
      /** Copies of which the lockfile of a side and the registry say different integrities; the lockfile's stands. */
      readonly disputed: readonly DisputedCopy[];
      readonly sum: string;
    }
  | { readonly kind: 'conflicts'; readonly conflicts: readonly ManifestConflict[] }
  | { readonly kind: 'unanswered'; readonly unanswered: readonly Unanswered[] }
  | { readonly kind: 'unreadable'; readonly problems: readonly PlacedProblem[] }
  /** Load these records and merge again. */
  | { readonly kind: 'ask'; readonly names: readonly string[] };

/** The hand-written files merged, before anything is resolved. */
export type ManifestsMerge =
  | {
      readonly kind: 'merged';
      readonly files: WorkspaceFiles;
      readonly workspace: Workspace;
      /** The answers of both sides' lockfiles, for the resolution to hold on to. */
      readonly before: Resolution;
    }
  | Extract<MergeOutcome, { kind: 'conflicts' | 'unreadable' }>;

/**
 * Merges two workspaces that come from one: the hand-written files requirement by requirement, then the
 * lockfile by resolving again with what both sides had. Swapping ours and theirs changes nothing but the names
 * in conflicts. Of a lockfile that cannot be read the blocks count that can be; of one with conflict markers both sides.
 * Cost: one resolution, and the merging of the files that both sides changed.
 */
export function mergeWorkspaces({ records, asOf, ...sides }: MergeInput): MergeOutcome {
  const merged = mergeManifests(sides);
  return merged.kind === 'merged' ? lockMerged(merged, records, asOf) : merged;
}

/** The lockfile to hand-written files that are merged already. Cost: one resolution. */
export function lockMerged(
  { files, workspace, before }: Extract<ManifestsMerge, { kind: 'merged' }>,
  records: PackageRecords,
  asOf: string,
): MergeOutcome {
  const outcome = resolve({ workspace, records, asOf, before });
  if (outcome.kind !== 'answered') return outcome;
  const { resolution, unmetPeers } = outcome;
  const text = printLock(resolution);
  const withLock = new Map(files).set(LOCK_FILE, text);
  const disputed = disputedCopies(records, resolution);
  return { kind: 'merged', files: withLock, resolution, unmetPeers, disputed, sum: lockSum(text) };
}

export function mergeManifests({
  base,
  ours,
  theirs,
  reading,
  settle,
}: Omit<MergeInput, 'records' | 'asOf'>): ManifestsMerge {
  const files = new Map<string, string>();
  const conflicts: ManifestConflict[] = [];
  const take = (path: string, merge: ManifestMerge): void => {
    if (merge.kind === 'conflicts') conflicts.push(...merge.conflicts);
    else if (merge.text !== undefined) files.set(path, merge.text);
  };
  const textsOf = (path: string): ThreeTexts => ({
    base: base.get(path),
    ours: ours.get(path),
    theirs: theirs.get(path),
  });
  // Other files are read by the shapes that the merge leads to.
  take(SHAPES_FILE, mergeManifest(SHAPES_FILE, textsOf(SHAPES_FILE), settle));
  const shapes = shapesIn(files);
  const isOfWorkspace = workspaceFileTest(files.get(SHAPES_FILE));
  const paths = new Set([...ours.keys(), ...theirs.keys()].filter(isOfWorkspace));
  for (const path of [...paths].sort()) {
    if (path === LOCK_FILE || path === SHAPES_FILE) continue;
    take(path, mergeFile(path, textsOf(path), shapes, settle));
  }
  if (conflicts.length > 0) return { kind: 'conflicts', conflicts };
  const { workspace, problems } = readWorkspace(files, reading);
  if (workspace === null || problems.some(isBlocking)) {
    return { kind: 'unreadable', problems: placeProblems(files, problems) };
  }
  const before = mergeLockAnswers({
    base: base.get(LOCK_FILE),
    ours: ours.get(LOCK_FILE),
    theirs: theirs.get(LOCK_FILE),
  });
  return { kind: 'merged', files, workspace, before };
}

/**
 * What a resolution after a merge holds on to, from the lockfiles of both sides and of their base. Of one that
 * cannot be read the blocks count that can be; of one with conflict markers both sides. O(length).
 */
export function mergeLockAnswers({ base, ours, theirs }: ThreeTexts): Resolution {
  const known: KnownBlocks = new Map();
  const read = (text: string | undefined): Resolution | null =>
    text === undefined ? null : resolutionOf(readLock(text, known));
  return mergeAnswers(read(base), read(ours), read(theirs));
}

function resolutionOf(reading: LockReading): Resolution | null {
  switch (reading.kind) {
    case 'read':
      return reading.resolution;
    case 'broken':
      return reading.kept;
    case 'conflicted':
      return mergeAnswers(null, resolutionOf(reading.ours), resolutionOf(reading.theirs));
  }
}
