import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** Where a registry is, and how one is let in. */
export interface KnownRegistry {
  /** Without credentials. */
  readonly url: string;
  /** Locked by the vault; null: none. */
  readonly credentials: string | null;
}

/** The texts of the files by which a repository is brought in. */
export interface BringInFiles {
  readonly root: string;
  readonly shapes: string;
}

/** A branch of a repository that has been opened, with the registries it uses. */
@Entity({ name: 'workspace' })
@Index('workspace_slug_key', ['slug'], { unique: true })
export class WorkspaceEntity {
  @PrimaryColumn({ type: 'uuid', primaryKeyConstraintName: 'workspace_pk' }) id: string;
  /** The name in addresses of pages. */
  @Column({ type: 'text' }) slug: string;
  @Column({ type: 'text' }) name: string;
  /** Path or git address, without credentials. */
  @Column({ type: 'text' }) address: string;
  @Column({ type: 'text' }) branch: string;
  /** For the repository, locked by the vault; null: none. */
  @Column({ type: 'text', nullable: true }) credentials: string | null;
  /** By name; under the empty name one that was given while the workspace had one registry, whatever it was called. */
  @Column({ type: 'jsonb' }) registries: Readonly<Record<string, KnownRegistry>>;
  /** Files of ours that the repository is read with while it has none; null: none have been worked out. */
  @Column({ type: 'jsonb', name: 'bring_in', nullable: true }) bringIn: BringInFiles | null;
  @Column({ type: 'timestamptz', name: 'opened_at' }) openedAt: Date;
  /** Null while it is open. A closed one keeps its drafts and posts for when it is opened again. */
  @Column({ type: 'timestamptz', name: 'closed_at', nullable: true }) closedAt: Date | null;
  /** A post waits until a second person has approved its draft. */
  @Column({ type: 'boolean', name: 'needs_approval', default: false }) needsApproval: boolean;
}
