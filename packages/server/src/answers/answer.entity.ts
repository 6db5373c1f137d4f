import { Column, Entity, ForeignKey, PrimaryColumn } from 'typeorm';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';

const PK = { primaryKeyConstraintName: 'answer_pk' };

/** A question that a worker process answers, and what it found. */
@Entity({ name: 'answer' })
export class AnswerEntity {
  @ForeignKey(() => WorkspaceEntity, { name: 'answer_workspace_fk', onDelete: 'CASCADE' })
  @PrimaryColumn({ type: 'uuid', name: 'workspace_id', ...PK })
  workspaceId: string;
  /** A sum over all that the answer depends on. */
  @PrimaryColumn({ type: 'text', ...PK }) key: string;
  @Column({ type: 'text' }) commit: string;
  /** As whoever answers it understands it. */
  @Column({ type: 'jsonb' }) question: { readonly kind: string };
  /** Serialised and compressed; null: not answered yet. */
  @Column({ type: 'bytea', nullable: true }) found: Buffer | null;
  @Column({ type: 'timestamptz', name: 'asked_at' }) askedAt: Date;
}
