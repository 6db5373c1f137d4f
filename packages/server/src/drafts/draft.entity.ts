import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import type { Edit } from '@deep-ledger/core';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** An edit in its place; one that was taken out does not count. */
export interface DraftEntry {
  readonly edit: Edit;
  readonly isOut: boolean;
}

/** Edits that are prepared and not yet in the repository. */
@Entity({ name: 'draft' })
@Index('draft_workspace_idx', ['workspaceId'])
export class DraftEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'draft_pk' }) id: string;
  @ForeignKey(() => WorkspaceEntity, { name: 'draft_workspace_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'workspace_id' })
  workspaceId: string;
  @Column({ type: 'text' }) name: string;
  /** Who began it. */
  @Column({ type: 'text' }) author: string;
  /** Null: begun before this was kept; whoever posts it is its author then. */
  @Column({ type: 'text', name: 'author_email', nullable: true }) authorEmail: string | null;
  /** The standing order that began it; null: a person did. */
  @Column({ type: 'text', name: 'standing_order', nullable: true }) standingOrder: string | null;
  /** Accounts that had a part in it, also by tokens that they made. */
  @Column({ type: 'uuid', array: true, default: '{}' }) contributors: string[];
  /** The head on which the person last saw it evaluated. */
  @Column({ type: 'text', name: 'base_commit' }) baseCommit: string;
  @Column({ type: 'jsonb' }) entries: DraftEntry[];
  /** Grows with each change, undoing included. */
  @Column({ type: 'integer' }) revision: number;
  /** Which of its states is the present one. */
  @Column({ type: 'integer' }) position: number;
  @Column({ type: 'text' }) state: 'open' | 'posted' | 'thrown-away';
  @Column({ type: 'timestamptz', name: 'created_at' }) createdAt: Date;
  @Column({ type: 'timestamptz', name: 'updated_at' }) updatedAt: Date;
}

/** A state that a draft was in; those after its position can be done again. */
@Entity({ name: 'draft_state' })
export class DraftStateEntity {
  @ForeignKey(() => DraftEntity, { name: 'draft_state_draft_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'draft_id', primaryKeyConstraintName: 'draft_state_pk' })
  draftId: string;
  @PrimaryColumn({ type: 'integer', primaryKeyConstraintName: 'draft_state_pk' }) position: number;
  @Column({ type: 'jsonb' }) entries: DraftEntry[];
  /** Id of the account or token that brought it into this state; null: not known. */
  @Column({ type: 'text', nullable: true }) by: string | null;
}

/** The edits that count. */
export function editsOf({ entries }: { readonly entries: readonly DraftEntry[] }): readonly Edit[] {
  return entries.flatMap(({ edit, isOut }) => (isOut ? [] : [edit]));
}
