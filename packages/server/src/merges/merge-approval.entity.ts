import { Column, Entity, ForeignKey, PrimaryColumn } from 'typeorm';
import { AccountEntity } from '../team/account.entity.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

const PK = { primaryKeyConstraintName: 'merge_approval_pk' };

/** Somebody's word that two commits may be merged with one result, whoever decided on it. */
@Entity({ name: 'merge_approval' })
export class MergeApprovalEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'merge_approval_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'workspace_id', ...PK })
  workspaceId: string;
  @ForeignKey(() => AccountEntity, { name: 'merge_approval_account_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'account_id', ...PK })
  accountId: string;
  /** As the person was called then. */
  @Column({ type: 'text' }) name: string;
  @Column({ type: 'text' }) email: string;
  /** The commits at the heads of the two branches. */
  @PrimaryColumn({ type: 'text', ...PK }) ours: string;
  @PrimaryColumn({ type: 'text', ...PK }) theirs: string;
  /** A sum over all of the workspace's files as the merge leaves them. */
  @Column({ type: 'text' }) result: string;
  @Column({ type: 'timestamptz' }) at: Date;
}
