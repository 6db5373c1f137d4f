import { Column, Entity, ForeignKey, Index, PrimaryColumn } from 'typeorm';
import type { Role } from './capability.js';

/** A person who may sign in. */
@Entity({ name: 'account' })
@Index('account_name_key', ['name'], { unique: true })
export class AccountEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'account_pk' }) id: string;
  /** What one signs in with; small letters. */
  @Column({ type: 'text' }) name: string;
  /** As it is shown and written into commits. */
  @Column({ type: 'text', name: 'shown_name' }) shownName: string;
  @Column({ type: 'text' }) email: string;
  @Column({ type: 'text' }) role: Role;
  /** An argon2id hash in PHC form; null until the person has chosen a password. */
  @Column({ type: 'text', nullable: true }) password: string | null;
  @Column({ type: 'boolean', name: 'is_active' }) isActive: boolean;
  @Column({ type: 'timestamptz', name: 'created_at' }) createdAt: Date;
}

/** A browser that is signed in. The secret itself is in its cookie alone. */
@Entity({ name: 'session' })
@Index('session_account_idx', ['accountId'])
export class SessionEntity {
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'session_pk' }) hash: string;
  @ForeignKey(() => AccountEntity, { name: 'session_account_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'account_id' })
  accountId: string;
  @Column({ type: 'timestamptz', name: 'created_at' }) createdAt: Date;
  @Column({ type: 'timestamptz', name: 'seen_at' }) seenAt: Date;
}

/** A link by which a password is chosen, once. */
@Entity({ name: 'one_time_link' })
export class OneTimeLinkEntity {
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'one_time_link_pk' }) hash: string;
  /** Null: the first keeper's. */
  @ForeignKey(() => AccountEntity, { name: 'one_time_link_account_fk', onDelete: 'CASCADE' })
  @Column({ type: 'uuid', name: 'account_id', nullable: true })
  accountId: string | null;
  @Column({ type: 'timestamptz', name: 'created_at' }) createdAt: Date;
}
