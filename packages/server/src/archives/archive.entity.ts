import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** BIGINT comes as text. */
const COUNT = { to: (value: number) => value, from: (value: string) => Number(value) };

/** An archive that the mirror keeps. */
@Entity({ name: 'archive' })
export class ArchiveEntity {
  /** Algorithm and hash in hexadecimal, such as `sha512-9f2c…`. */
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'archive_pk' }) digest: string;
  @Column({ type: 'text' }) name: string;
  @Column({ type: 'text' }) version: string;
  @Column({ type: 'text' }) integrity: string;
  @Column({ type: 'bigint', transformer: COUNT }) bytes: number;
  @Column({ type: 'timestamptz', name: 'kept_at' }) keptAt: Date;
  /** When it was hashed last, and held. */
  @Column({ type: 'timestamptz', name: 'checked_at' }) checkedAt: Date;
  /** When somebody was sent it last. */
  @Column({ type: 'timestamptz', name: 'sent_at', nullable: true }) sentAt: Date | null;
  /** Since when no lockfile names it; null: one does. */
  @Column({ type: 'timestamptz', name: 'unused_since', nullable: true }) unusedSince: Date | null;
}

const USE = { primaryKeyConstraintName: 'archive_use_pk' };

/** An archive that lockfiles of a workspace name, whether it is kept or not. */
@Entity({ name: 'archive_use' })
@Index('archive_use_digest_idx', ['digest'])
export class ArchiveUseEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'archive_use_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'workspace_id', ...USE })
  workspaceId: string;
  @PrimaryColumn({ type: 'text', ...USE }) digest: string;
  @Column({ type: 'text' }) name: string;
  @Column({ type: 'text' }) version: string;
  @Column({ type: 'text' }) registry: string;
  /** Branches whose lockfile has it. */
  @Column({ type: 'text', array: true }) branches: string[];
  /** Its registry does not have it any more, or says another integrity by now. */
  @Column({ type: 'boolean', name: 'is_gone' }) isGone: boolean;
  /** Why it could not be had, for people; null: it is kept, or was not tried. */
  @Column({ type: 'text', nullable: true }) trouble: string | null;
}

/** How far the mirror is with a workspace. */
@Entity({ name: 'archive_round' })
export class ArchiveRoundEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'archive_round_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({
    type: 'uuid',
    name: 'workspace_id',
    primaryKeyConstraintName: 'archive_round_pk',
  })
  workspaceId: string;
  /** Over the lockfiles of its branches that it went through. */
  @Column({ type: 'text' }) sum: string;
  @Column({ type: 'timestamptz' }) at: Date;
  /** Branches that have a lockfile. */
  @Column({ type: 'integer' }) branches: number;
  /** Archives that did not hold when they were checked, and were thrown away. */
  @Column({ type: 'integer' }) unsound: number;
}
