import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

export const JOB_KINDS = [
  'findings-history',
  'lock-history',
  'drift',
  'scan',
  'draft',
  'findings',
  'clearing',
  'several',
  'upgrades',
  'merge',
  'standing',
  'archives',
] as const;
export type JobKind = (typeof JOB_KINDS)[number];

export type JobState = 'waiting' | 'running' | 'done' | 'failed' | 'stopped';

/** Long work that a worker process does; the queue holds only its id. */
@Entity({ name: 'job' })
@Index('job_open_key', ['workspaceId', 'kind', 'key'], {
  unique: true,
  where: `"state" IN ('waiting', 'running')`,
})
export class JobEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'job_pk' }) id: string;
  @ForeignKey(() => WorkspaceEntity, { name: 'job_workspace_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'workspace_id' })
  workspaceId: string;
  @Column({ type: 'text' }) kind: JobKind;
  /** What it is about, such as a commit; of one kind and key only one is under way. */
  @Column({ type: 'text' }) key: string;
  @Column({ type: 'text' }) state: JobState;
  @Column({ type: 'integer' }) done: number;
  /** 0: not known yet. */
  @Column({ type: 'integer' }) total: number;
  /** The process that works on it, for as long as it says so again and again. */
  @Column({ type: 'uuid', name: 'claimed_by', nullable: true }) claimedBy: string | null;
  @Column({ type: 'timestamptz', name: 'lease_until', nullable: true }) leaseUntil: Date | null;
  /** Why it failed, for people. */
  @Column({ type: 'text', nullable: true }) trouble: string | null;
  @Column({ type: 'timestamptz', name: 'created_at' }) createdAt: Date;
  @Column({ type: 'timestamptz', name: 'updated_at' }) updatedAt: Date;
}
