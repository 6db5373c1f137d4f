import type { Figures } from '@deep-ledger/core';
import { Column, Entity, ForeignKey, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** How a workspace stood at one of its commits, on that commit's day. */
@Entity({ name: 'commit_figures' })
export class CommitFiguresEntity {
  @ForeignKey(() => WorkspaceEntity, {
    name: 'commit_figures_workspace_fk',
    onDelete: 'CASCADE',
  })
  @PrimaryColumn({
    type: 'uuid',
    name: 'workspace_id',
    primaryKeyConstraintName: 'commit_figures_pk',
  })
  workspaceId: string;
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'commit_figures_pk' }) commit: string;
  @Column({ type: 'text' }) subject: string;
  @Column({ type: 'text' }) author: string;
  @Column({ type: 'timestamptz' }) at: Date;
  @Column({ type: 'jsonb' }) figures: Figures;
  /** Names of its findings, muted ones included. */
  @Column({ type: 'jsonb' }) findings: readonly string[];
}
