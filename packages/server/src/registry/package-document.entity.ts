import { Column, Entity, PrimaryColumn } from 'typeorm';

/** A registry's document as it was last read; a null body: the registry does not have the package. */
@Entity({ name: 'package_document' })
export class PackageDocumentEntity {
  @PrimaryColumn({
    type: 'text',
    name: 'registry_url',
    primaryKeyConstraintName: 'package_document_pk',
  })
  registryUrl: string;
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'package_document_pk' }) name: string;
  @Column({ type: 'text', nullable: true }) etag: string | null;
  @Column({ type: 'jsonb', nullable: true }) body: unknown;
  /** A sum over the body; empty where there is none. */
  @Column({ type: 'text' }) sum: string;
  /** The registry has announced a change since it was asked for. */
  @Column({ type: 'boolean', name: 'is_outdated' }) isOutdated: boolean;
  @Column({ type: 'timestamptz', name: 'fetched_at' }) fetchedAt: Date;
}
