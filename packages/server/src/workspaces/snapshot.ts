import type { DraftBase, PlacedProblem, WorkspaceReading } from '@deep-ledger/core';
import type { CommitInfo } from '../git/git-history.js';
import type { RegistryReading } from '../registry/registry.service.js';

/** A workspace as it stands at one commit, with what its registry says. */
export interface Snapshot {
  readonly head: CommitInfo;
  /** Whether the same would be read again: the head's commit with the files that it was read with. */
  readonly point: string;
  /** Where its registries were. */
  readonly places: string;
  /** When the repository was last read. */
  readonly readAt: Date;
  /** When it was last asked, with or without an answer. */
  readonly askedAt: Date;
  /** Why it gave no answer then, for people; null: it did. */
  readonly repositoryTrouble: string | null;
  readonly base: DraftBase;
  readonly problems: readonly PlacedProblem[];
  /** Of the lockfile's canonical text; null when it cannot be read. */
  readonly lockSum: string | null;
  readonly registry: RegistryReading;
}

/** What a workspace at a commit is worked out from. */
export interface Material extends Pick<DraftBase, 'files' | 'unwritten' | 'records' | 'today'> {
  readonly commit: string;
  /** Whether the same would be read again: the commit with the files that it was read with. */
  readonly point: string;
  readonly reading: WorkspaceReading;
  readonly registry: RegistryReading;
}
