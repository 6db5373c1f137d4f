import { Column, Entity, ForeignKey, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

const PK = { primaryKeyConstraintName: 'drift_point_pk' };

/** How far a resolution without the lockfile on one day is from the lockfile of a commit. */
@Entity({ name: 'drift_point' })
export class DriftPointEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'drift_point_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'workspace_id', ...PK })
  workspaceId: string;
  @PrimaryColumn({ type: 'text', ...PK }) commit: string;
  /** YYYY-MM-DD */
  @PrimaryColumn({ type: 'date', ...PK }) day: string;
  /** Null: nothing would have answered the manifests on that day. */
  @Column({ type: 'integer', nullable: true }) entered: number | null;
  @Column({ type: 'integer', nullable: true }) left: number | null;
  @Column({ type: 'integer', nullable: true }) moved: number | null;
}
