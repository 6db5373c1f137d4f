import { randomUUID } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Logger } from 'pino';
import { In, LessThan, MoreThan, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { LiveService } from '../live/live.service.js';
import { LOGGER } from '../logging/nest-logger.js';
import { Problem } from '../problems/problem.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { JobEntity, type JobKind } from './job.entity.js';
import { Queue } from './queue.js';

/** What a job's work is given to tell how far it is. */
export interface JobWatch {
  /** @throws JobStopped once somebody has stopped the job */
  readonly progress: (done: number, total: number) => Promise<void>;
}

export type JobWork = (entity: WorkspaceEntity, key: string, watch: JobWatch) => Promise<void>;

/** Somebody stopped the job. */
export class JobStopped extends Error {}

const TELL_MS = 300;
/** What has failed is left alone for so long before it is begun again by itself. */
const REST_MS = 30_000;
/** A job that has told nothing for so long is taken up again. */
const SILENT_MS = 2 * 60_000;
/** Work that is over is shown for so long. */
const SHOWN_MS = 60 * 60_000;

/** Long work: begun by servers, done by worker processes, told of to everybody. */
@Injectable()
export class JobsService {
  private readonly works = new Map<JobKind, JobWork>();

  constructor(
    @InjectRepository(JobEntity) private readonly jobs: Repository<JobEntity>,
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
    @Inject(LOGGER) private readonly log: Logger,
    private readonly queue: Queue,
    private readonly live: LiveService,
    private readonly clock: Clock,
  ) {
    queue.handle((id) => this.run(id));
  }

  /** Says how a kind of job is done. */
  register(kind: JobKind, work: JobWork): void {
    this.works.set(kind, work);
  }

  /** Begins a job unless one of this kind and key is under way, failed a moment ago, or was stopped. */
  async begin({ id: workspaceId }: WorkspaceEntity, kind: JobKind, key: string): Promise<void> {
    const job = { workspaceId, kind, key };
    if (await this.takeUpAgain(job)) return;
    const lately = MoreThan(new Date(this.clock.now().getTime() - REST_MS));
    const where = [
      { ...job, state: In(['waiting', 'running', 'stopped']) },
      { ...job, state: 'failed' as const, updatedAt: lately },
    ];
    if (!(await this.jobs.existsBy(where))) await this.enqueue(workspaceId, kind, key);
  }

  /** Sends a job once more of which nothing was heard: its sender or its workers are gone. Doing one twice harms nothing. */
  private async takeUpAgain(
    job: Pick<JobEntity, 'workspaceId' | 'kind' | 'key'>,
  ): Promise<boolean> {
    const now = this.clock.now();
    const silent = await this.jobs.findOneBy({
      ...job,
      state: In(['waiting', 'running']),
      updatedAt: LessThan(new Date(now.getTime() - SILENT_MS)),
    });
    if (silent === null) return false;
    await this.jobs.update({ id: silent.id }, { updatedAt: now });
    await this.queue.send(silent.id);
    return true;
  }

  /** The last job of a kind and key; null: there was none. */
  latest({ id }: WorkspaceEntity, kind: JobKind, key: string): Promise<JobEntity | null> {
    return this.jobs.findOne({
      where: { workspaceId: id, kind, key },
      order: { createdAt: 'DESC' },
    });
  }

  /** What is under way, and what ended within the last hour, newest first. */
  list({ id }: WorkspaceEntity): Promise<JobEntity[]> {
    const since = MoreThan(new Date(this.clock.now().getTime() - SHOWN_MS));
    return this.jobs.find({
      where: [
        { workspaceId: id, updatedAt: since },
        { workspaceId: id, state: In(['waiting', 'running']) },
      ],
      order: { createdAt: 'DESC' },
      take: 50,
    });
  }

  /** @throws Problem JOB_UNKNOWN */
  async stop(workspace: WorkspaceEntity, id: string): Promise<void> {
    const { affected } = await this.jobs.update(
      { id, workspaceId: workspace.id, state: In(['waiting', 'running']) },
      { state: 'stopped', updatedAt: this.clock.now() },
    );
    if (affected !== 1) throw unknownJob('It is not there, or is over.');
    await this.live.tell(workspace.id, 'jobs');
  }

  /** Begins a job again that failed or was stopped. @throws Problem JOB_UNKNOWN */
  async again(workspace: WorkspaceEntity, id: string): Promise<void> {
    const job = await this.jobs.findOneBy({
      id,
      workspaceId: workspace.id,
      state: In(['failed', 'stopped']),
    });
    if (job === null) throw unknownJob('It is not there, or has neither failed nor been stopped.');
    await this.jobs.delete({ id });
    await this.enqueue(workspace.id, job.kind, job.key);
  }

  private async enqueue(workspaceId: string, kind: JobKind, key: string): Promise<void> {
    const now = this.clock.now();
    const id = randomUUID();
    const inserted = (await this.jobs.query(
      `INSERT INTO "job" ("id", "workspace_id", "kind", "key", "state", "done", "total", "created_at", "updated_at")
       VALUES ($1, $2, $3, $4, 'waiting', 0, 0, $5, $5) ON CONFLICT DO NOTHING RETURNING "id"`,
      [id, workspaceId, kind, key, now],
    )) as object[];
    if (inserted.length === 0) return;
    await this.queue.send(id);
    await this.live.tell(workspaceId, 'jobs');
  }

  /** In a worker process. The queue tries again where the process dies; work that fails is told and left. */
  private async run(id: string): Promise<void> {
    const job = await this.jobs.findOneBy({ id, state: In(['waiting', 'running']) });
    const entity = job === null ? null : await this.workspaces.findOneBy({ id: job.workspaceId });
    const work = job === null ? undefined : this.works.get(job.kind);
    if (job === null || entity === null || work === undefined) return;
    let toldAt = 0;
    const progress = async (done: number, total: number): Promise<void> => {
      const now = this.clock.now();
      if (now.getTime() - toldAt < TELL_MS && done < total) return;
      toldAt = now.getTime();
      const { affected } = await this.jobs.update(
        { id, state: In(['waiting', 'running']) },
        { state: 'running', done, total, updatedAt: now },
      );
      if (affected !== 1) throw new JobStopped();
      await this.live.tell(entity.id, 'jobs');
    };
    try {
      await progress(0, 0);
      await work(entity, job.key, { progress });
      await this.end(job, { state: 'done', trouble: null });
    } catch (error) {
      if (error instanceof JobStopped) return;
      this.log.warn({ err: error, job: id, kind: job.kind }, 'a job failed');
      const trouble =
        error instanceof Problem
          ? error.detail
          : `The work failed: ${error instanceof Error ? error.message : String(error)}`;
      await this.end(job, { state: 'failed', trouble });
    }
  }

  private async end(
    { id, workspaceId }: JobEntity,
    values: Pick<JobEntity, 'state' | 'trouble'>,
  ): Promise<void> {
    await this.jobs.update(
      { id, state: In(['waiting', 'running']) },
      { ...values, updatedAt: this.clock.now() },
    );
    await this.live.tell(workspaceId, 'jobs');
  }
}

function unknownJob(detail: string): Problem {
  return new Problem('JOB_UNKNOWN', 404, 'No such work', detail);
}
