import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LessThan, type FindOptionsWhere, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { AuditEntity } from './audit.entity.js';

const PAGE = 100;

export type AuditEntry = Pick<
  AuditEntity,
  'actorKind' | 'actor' | 'action' | 'workspace' | 'subject'
>;

/** Who did what. Nothing is ever changed in it. */
@Injectable()
export class AuditService {
  constructor(
    @InjectRepository(AuditEntity) private readonly entries: Repository<AuditEntity>,
    private readonly clock: Clock,
  ) {}

  async record(entry: AuditEntry): Promise<void> {
    await this.entries.insert({ ...entry, at: this.clock.now() });
  }

  /** Newest first. @param before an entry; only what came before it */
  async list(filter: {
    readonly before?: string;
    readonly workspace?: string;
  }): Promise<{ entries: readonly AuditEntity[]; hasMore: boolean }> {
    const where: FindOptionsWhere<AuditEntity> = {
      ...(filter.before === undefined ? {} : { id: LessThan(filter.before) }),
      ...(filter.workspace === undefined ? {} : { workspace: filter.workspace }),
    };
    const found = await this.entries.find({ where, order: { id: 'DESC' }, take: PAGE + 1 });
    return { entries: found.slice(0, PAGE), hasMore: found.length > PAGE };
  }
}
