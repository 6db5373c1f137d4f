import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** A standing order as the repository was last seen to have it: which are due is asked without reading any repository. */
@Entity({ name: 'standing_order' })
export class StandingOrderEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'standing_order_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({
    type: 'uuid',
    name: 'workspace_id',
    primaryKeyConstraintName: 'standing_order_pk',
  })
  workspaceId: string;
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'standing_order_pk' }) name: string;
  @Column({ type: 'text' }) every: string;
  /** It is due for the first time after this. */
  @Column({ type: 'timestamptz', name: 'known_since' }) knownSince: Date;
}

/** `draft` and `branch`: what it prepared stands there. */
export type RunState = 'running' | 'draft' | 'branch' | 'nothing' | 'failed';

/** One time that a standing order ran. */
@Entity({ name: 'standing_run' })
@Index('standing_run_due_key', ['workspaceId', 'name', 'due'], { unique: true })
export class StandingRunEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'standing_run_pk' }) id: string;
  @ForeignKey(() => WorkspaceEntity, { name: 'standing_run_workspace_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'workspace_id' })
  workspaceId: string;
  @Column({ type: 'text' }) name: string;
  /** When it was due; null: somebody ran it. */
  @Column({ type: 'timestamptz', nullable: true }) due: Date | null;
  /** Who ran it by hand. */
  @Column({ type: 'text', nullable: true }) by: string | null;
  @Column({ type: 'text' }) state: RunState;
  /** Packages and sets that it takes, and those that it left out. */
  @Column({ type: 'integer' }) taken: number;
  @Column({ type: 'integer', name: 'left_out' }) leftOut: number;
  @Column({ type: 'uuid', name: 'draft_id', nullable: true }) draftId: string | null;
  /** What it put on its branch. */
  @Column({ type: 'text', nullable: true }) commit: string | null;
  /** What came of it, or why it failed, for people. */
  @Column({ type: 'text', nullable: true }) says: string | null;
  @Column({ type: 'timestamptz', name: 'began_at' }) beganAt: Date;
  @Column({ type: 'timestamptz', name: 'ended_at', nullable: true }) endedAt: Date | null;
}
