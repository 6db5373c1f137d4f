import { Column, Entity, PrimaryColumn } from 'typeorm';

/** How far the changes of a registry have been read. */
@Entity({ name: 'registry' })
export class RegistryEntity {
  @PrimaryColumn({ type: 'text', primaryKeyConstraintName: 'registry_pk' }) url: string;
  @Column({ type: 'text' }) cursor: string;
}
