import { Column, Entity, Index, PrimaryGeneratedColumn } from 'typeorm';

/** One thing that somebody did. It names people and workspaces by what they were called then, and stays. */
@Entity({ name: 'audit' })
@Index('audit_workspace_idx', ['workspace'])
export class AuditEntity {
  @PrimaryGeneratedColumn('identity', { type: 'bigint', primaryKeyConstraintName: 'audit_pk' })
  id: string;
  @Column({ type: 'timestamptz' }) at: Date;
  /** `account`, `token`, or `nobody` where a sign-in failed. */
  @Column({ type: 'text', name: 'actor_kind' }) actorKind: 'account' | 'token' | 'nobody';
  @Column({ type: 'text' }) actor: string;
  /** The operation's name in the interface's description. */
  @Column({ type: 'text' }) action: string;
  /** The workspace's name in addresses. */
  @Column({ type: 'text', nullable: true }) workspace: string | null;
  /** What it was done to. */
  @Column({ type: 'text', nullable: true }) subject: string | null;
}
