import type { Decision } from './settling.js';

/** What becomes of merging one commit into another; ours is the commit that the question is about. */
export interface MergeQuestion {
  readonly kind: 'merge';
  readonly base: string;
  readonly theirs: string;
  readonly decisions: readonly Decision[];
}
