import { Column, Entity, Index, PrimaryColumn } from 'typeorm';

/** What one source file refers to, kept by its content: a commit that leaves a file alone scans nothing of it. */
@Entity({ name: 'source_scan' })
export class SourceScanEntity {
  /** The blob's id, the ending of the file's name, and what the scan was told. */
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'source_scan_pk' }) key: string;
  @Column({ type: 'jsonb' }) found: unknown;
  @Index('source_scan_found_idx')
  @Column({ type: 'timestamptz', name: 'found_at', default: () => 'now()' })
  foundAt: Date;
}
