import type { Place } from '../text/index.js';

/** One thing in which lockfile and manifests disagree, or that makes the lockfile unreadable. */
export interface LockReason {
  readonly code:
    | 'LOCK_MISSING'
    | 'LOCK_UNREADABLE'
    | 'LOCK_CONFLICTED'
    | 'FORMAT_OLD'
    | 'NOT_CANONICAL'
    | 'PROJECT_ADDED'
    | 'PROJECT_GONE'
    | 'PROJECT_RENAMED'
    | 'REQUIREMENT_ADDED'
    | 'REQUIREMENT_GONE'
    | 'REQUIREMENT_CHANGED'
    | 'ANSWER_MISSING'
    | 'ANSWER_OUT_OF_RANGE'
    | 'ANSWER_FOR_OTHER_TARGETS'
    | 'SKIP_UNFOUNDED'
    | 'PIN_UNHEEDED'
    | 'REGISTRY_CHANGED'
    | 'OTHERWISE_CHANGED'
    | 'POLICY_UNHEEDED'
    | 'TARGETS_CHANGED'
    | 'PEER_UNSUPPLIED'
    | 'PEER_UNMET'
    | 'SUPPLY_IDLE'
    | 'COPY_ORPHANED'
    /** Only where the registry is asked: locking again would write something else, or finds no answer. */
    | 'BLOCK_CHANGES'
    | 'NO_ANSWER';
  /** What it is about, in words that stay while the same thing is wrong: a folder, a copy, a package. */
  readonly about: readonly string[];
  readonly message: string;
  readonly place: Place;
}
