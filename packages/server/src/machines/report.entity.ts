import { Column, Entity, ForeignKey, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

export const REPORTER_KINDS = ['machine', 'build'] as const;
/** Branches need not report: the repository tells. */
export const LINE_KINDS = [...REPORTER_KINDS, 'branch'] as const;
export type LineKind = (typeof LINE_KINDS)[number];
export type ReporterKind = (typeof REPORTER_KINDS)[number];

const PK = { primaryKeyConstraintName: 'report_pk' };

/** The last answer of a machine or a kind of build run. */
@Entity({ name: 'report' })
export class ReportEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'report_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'workspace_id', ...PK })
  workspaceId: string;
  @PrimaryColumn({ type: 'text', ...PK }) kind: ReporterKind;
  @PrimaryColumn({ type: 'text', ...PK }) name: string;
  @Column({ type: 'text', nullable: true }) branch: string | null;
  @Column({ type: 'text', nullable: true }) commit: string | null;
  @Column({ type: 'text', name: 'lock_sum' }) lockSum: string;
  /** Of the lockfile from which packages were installed last; null: not told. */
  @Column({ type: 'text', name: 'installed_sum', nullable: true }) installedSum: string | null;
  @Column({ type: 'text', name: 'reported_by' }) reportedBy: string;
  @Column({ type: 'timestamptz' }) at: Date;
  /** The first of its answers in a row that told these sums. */
  @Column({ type: 'timestamptz' }) since: Date;
}
