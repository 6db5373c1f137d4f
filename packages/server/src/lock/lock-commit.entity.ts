import { Column, Entity, ForeignKey, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

const PK = { primaryKeyConstraintName: 'lock_commit_pk' };

/** A commit that changed the lockfile, and which copies came and went with it. */
@Entity({ name: 'lock_commit' })
export class LockCommitEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'lock_commit_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'workspace_id', ...PK })
  workspaceId: string;
  @PrimaryColumn({ type: 'text', ...PK }) commit: string;
  @Column({ type: 'text' }) subject: string;
  @Column({ type: 'text' }) author: string;
  @Column({ type: 'timestamptz' }) at: Date;
  /** Null: it cannot be read there. */
  @Column({ type: 'text', nullable: true }) sum: string | null;
  @Column({ type: 'integer' }) copies: number;
  /** Names and versions of copies, against the commit before that could be read. */
  @Column({ type: 'jsonb' }) entered: readonly string[];
  @Column({ type: 'jsonb' }) left: readonly string[];
}
