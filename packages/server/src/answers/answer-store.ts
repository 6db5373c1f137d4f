import { promisify } from 'node:util';
import { deserialize, serialize } from 'node:v8';
import { gunzip, gzip } from 'node:zlib';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LessThan, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import type { AwaitedWork } from '../jobs/awaited-work.js';
import { JobsService } from '../jobs/jobs.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { AnswerEntity } from './answer.entity.js';

const zip = promisify(gzip);
const unzip = promisify(gunzip);

const KEPT_MS = 24 * 60 * 60_000;

/** Questions that worker processes answer, and what they found, kept for a day where all servers see it. */
@Injectable()
export class AnswerStore {
  constructor(
    @InjectRepository(AnswerEntity) private readonly kept: Repository<AnswerEntity>,
    private readonly jobs: JobsService,
    private readonly clock: Clock,
  ) {}

  /**
   * What is known already, else what a job finds.
   * @throws Problem WORK_FAILED, WORK_STOPPED, WORK_WAITING
   */
  async ask(
    entity: WorkspaceEntity,
    { kind, key }: AwaitedWork,
    commit: string,
    question: AnswerEntity['question'],
  ): Promise<unknown> {
    const where = { workspaceId: entity.id, key };
    const known = await this.kept.findOneBy(where);
    if (known?.found != null) return read(known.found);
    const askedAt = this.clock.now();
    await this.kept.upsert({ ...where, commit, question: question as never, askedAt }, [
      'workspaceId',
      'key',
    ]);
    await this.kept.delete({ askedAt: LessThan(new Date(askedAt.getTime() - KEPT_MS)) });
    await this.jobs.finish(entity, kind, key);
    const { found } = await this.kept.findOneByOrFail(where);
    if (found === null) throw new Error(`the job ${key} is done and has left no answer`);
    return read(found);
  }

  /** For the job: leaves an answer to what was asked, unless there is one. */
  async fill<Question extends AnswerEntity['question']>(
    entity: WorkspaceEntity,
    key: string,
    answer: (commit: string, question: Question) => Promise<unknown>,
  ): Promise<void> {
    const where = { workspaceId: entity.id, key };
    const asked = await this.kept.findOneBy(where);
    if (asked === null || asked.found !== null) return;
    const found = await answer(asked.commit, asked.question as Question);
    await this.kept.update(where, { found: await zip(serialize(found)) });
  }
}

async function read(found: Buffer): Promise<unknown> {
  return deserialize(await unzip(found));
}
