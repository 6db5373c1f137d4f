import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** A branch of a repository that has been opened, with the registry it uses. */
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
  /** Without credentials. */
  @Column({ type: 'text', name: 'registry_url' }) registryUrl: string;
  /** For the registry, locked by the vault; null: none. */
  @Column({ type: 'text', name: 'registry_credentials', nullable: true })
  registryCredentials: string | null;
  @Column({ type: 'timestamptz', name: 'opened_at' }) openedAt: Date;
  /** Null while it is open. A closed one keeps its drafts and posts for when it is opened again. */
  @Column({ type: 'timestamptz', name: 'closed_at', nullable: true }) closedAt: Date | null;
  /** A post waits until a second person has approved its draft. */
  @Column({ type: 'boolean', name: 'needs_approval', default: false }) needsApproval: boolean;
}
