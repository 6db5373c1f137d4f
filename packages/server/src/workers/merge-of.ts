import {
  lockMerged,
  mergeManifests,
  type MergeOutcome,
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

/** The result of merging two branches: manifests by requirement, then the lockfile by resolving. */
export function mergeOf({ files, decisions, records, today }: MergeTask): MergeOutcome {
  const manifests = mergeManifests({ ...files, settle: settling(decisions) });
  return manifests.kind === 'merged' ? lockMerged(manifests, records, today) : manifests;
}
