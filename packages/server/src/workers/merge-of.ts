import {
  lockMerged,
  mergeManifests,
  LOCK_FILE,
  openTerms,
  readLock,
  type MergeOutcome,
  type OpenTerms,
  type PackageRecords,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { settling, type Decision } from '../merges/settling.js';

export interface MergeTask {
  readonly files: {
    readonly base: WorkspaceFiles;
    readonly ours: WorkspaceFiles;
    readonly theirs: WorkspaceFiles;
  };
  readonly decisions: readonly Decision[];
  readonly records: PackageRecords;
  /** YYYY-MM-DD */
  readonly today: string;
}

/** A merge that can be posted unless something stands against it. */
export type Merged = Extract<MergeOutcome, { kind: 'merged' }> & {
  /** Terms that nobody has accepted of copies that it brings into our branch. */
  readonly openTerms: readonly OpenTerms[];
};
export type MergeResult = Merged | Exclude<MergeOutcome, { kind: 'merged' }>;

/** The result of merging two branches: manifests by requirement, then the lockfile by resolving. */
export function mergeOf({ files, decisions, records, today }: MergeTask): MergeResult {
  const manifests = mergeManifests({ ...files, settle: settling(decisions) });
  if (manifests.kind !== 'merged') return manifests;
  const outcome = lockMerged(manifests, records, today);
  if (outcome.kind !== 'merged') return outcome;
  const ours = readLock(files.ours.get(LOCK_FILE) ?? '');
  const before = ours.kind === 'read' ? ours.resolution : null;
  const open = openTerms(manifests.workspace, records, outcome.resolution, before);
  return { ...outcome, openTerms: open };
}
