import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import type { Edit } from '@deep-ledger/core';
import { DraftEntity } from '../drafts/draft.entity.js';

/** Somebody's word that a draft may be posted, as it stood at one revision and with what it came to then. */
@Entity({ name: 'draft_approval' })
export class ApprovalEntity {
  @ForeignKey(() => DraftEntity, { name: 'draft_approval_draft_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({
    type: 'uuid',
    name: 'draft_id',
    primaryKeyConstraintName: 'draft_approval_pk',
  })
  draftId: string;
  @PrimaryColumn({
    type: 'uuid',
    name: 'account_id',
    primaryKeyConstraintName: 'draft_approval_pk',
  })
  accountId: string;
  /** As the person was called then. */
  @Column({ type: 'text' }) name: string;
  @Column({ type: 'text' }) email: string;
  @Column({ type: 'integer' }) revision: number;
  /** The head of the branch, and the sum of the lockfile that the draft led to on it. */
  @Column({ type: 'text', name: 'base_commit' }) baseCommit: string;
  @Column({ type: 'text', name: 'lock_sum' }) lockSum: string;
  @Column({ type: 'timestamptz' }) at: Date;
}

/** What somebody says of a draft, or of one of its edits. */
@Entity({ name: 'draft_comment' })
@Index('draft_comment_draft_idx', ['draftId'])
export class CommentEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'draft_comment_pk' }) id: string;
  @ForeignKey(() => DraftEntity, { name: 'draft_comment_draft_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'draft_id' })
  draftId: string;
  /** Null: a token's. */
  @Column({ type: 'uuid', name: 'account_id', nullable: true }) accountId: string | null;
  @Column({ type: 'text' }) name: string;
  /** The edit as it was; null: of the draft as a whole. */
  @Column({ type: 'jsonb', nullable: true }) edit: Edit | null;
  @Column({ type: 'text' }) text: string;
  @Column({ type: 'timestamptz' }) at: Date;
}
