import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { AccountEntity } from './account.entity.js';
import type { Scope } from './capability.js';

/** Lets a machine ask about one workspace. The secret itself is shown once and not kept. */
@Entity({ name: 'token' })
@Index('token_hash_key', ['hash'], { unique: true })
@Index('token_workspace_idx', ['workspaceId'])
export class TokenEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'token_pk' }) id: string;
  @ForeignKey(() => WorkspaceEntity, { name: 'token_workspace_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'workspace_id' })
  workspaceId: string;
  @Column({ type: 'text' }) name: string;
  @Column({ type: 'text' }) hash: string;
  @Column({ type: 'text', array: true }) scopes: Scope[];
  /** The last day on which it counts. */
  @Column({ type: 'date', name: 'last_day' }) lastDay: string;
  @Column({ type: 'text', name: 'made_by' }) madeBy: string;
  /** The account that made it, in whose name it acts. */
  @ForeignKey(() => AccountEntity, { name: 'token_maker_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'maker_id', nullable: true })
  makerId: string | null;
  @Column({ type: 'timestamptz', name: 'created_at' }) createdAt: Date;
  @Column({ type: 'timestamptz', name: 'used_at', nullable: true }) usedAt: Date | null;
  @Column({ type: 'timestamptz', name: 'revoked_at', nullable: true }) revokedAt: Date | null;
}
