import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import type { Edit } from '@deep-ledger/core';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** Edits that are prepared and not yet in the repository. */
@Entity({ name: 'draft' })
@Index('draft_workspace_idx', ['workspaceId'])
export class DraftEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'draft_pk' }) id: string;
  @ForeignKey(() => WorkspaceEntity, { name: 'draft_workspace_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'workspace_id' })
  workspaceId: string;
  @Column({ type: 'text' }) name: string;
  /** The head on which the person last saw it evaluated. */
  @Column({ type: 'text', name: 'base_commit' }) baseCommit: string;
  @Column({ type: 'jsonb' }) edits: Edit[];
  @Column({ type: 'text' }) state: 'open' | 'posted' | 'thrown-away';
  @Column({ type: 'timestamptz', name: 'created_at' }) createdAt: Date;
  @Column({ type: 'timestamptz', name: 'updated_at' }) updatedAt: Date;
}
