import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import type { DraftEntry } from '../drafts/draft.entity.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** One line of the journal in words. */
export interface PostedEdit {
  readonly subject: string;
  readonly verb: string;
  readonly from: string | null;
  readonly to: string | null;
  readonly detail: string | null;
}

/** What a post led to. */
export interface PostedFigures {
  readonly outOfLine: readonly [before: number, after: number];
  readonly copies: readonly [before: number | null, after: number];
  readonly manifests: number;
}

/**
 * A draft written into the repository as a commit. The row is there as `writing` before the branch is
 * moved, so that a crash in between is settled at the next start by asking the branch.
 */
@Entity({ name: 'post' })
@Index('post_workspace_idx', ['workspaceId'])
export class PostEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'post_pk' }) id: string;
  @ForeignKey(() => WorkspaceEntity, { name: 'post_workspace_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'workspace_id' })
  workspaceId: string;
  @Column({ type: 'uuid', name: 'draft_id' }) draftId: string;
  @Column({ type: 'text' }) state: 'writing' | 'posted' | 'failed';
  @Column({ type: 'text' }) branch: string;
  @Column({ type: 'text', name: 'base_commit' }) baseCommit: string;
  @Column({ type: 'text' }) commit: string;
  @Column({ type: 'text' }) message: string;
  /** Who began the draft. */
  @Column({ type: 'text', name: 'author_name' }) authorName: string;
  @Column({ type: 'text', name: 'author_email' }) authorEmail: string;
  /** Who posted it. */
  @Column({ type: 'text', name: 'committer_name' }) committerName: string;
  @Column({ type: 'text', name: 'committer_email' }) committerEmail: string;
  /** As in the trailers of the commit: name and address. */
  @Column({ type: 'text', name: 'approved_by', array: true, default: '{}' }) approvedBy: string[];
  /** Of the draft; null: it was a merge. */
  @Column({ type: 'integer', name: 'draft_revision', nullable: true }) draftRevision: number | null;
  /** Of the draft, as they were posted. */
  @Column({ type: 'jsonb', default: '[]' }) entries: DraftEntry[];
  @Column({ type: 'jsonb' }) edits: PostedEdit[];
  @Column({ type: 'jsonb' }) figures: PostedFigures;
  /** Of the lockfile it wrote. */
  @Column({ type: 'text', name: 'lock_sum' }) lockSum: string;
  @Column({ type: 'timestamptz', name: 'posted_at' }) postedAt: Date;
}
