import { randomUUID } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Logger } from 'pino';
import { In, LessThan, MoreThan, MoreThanOrEqual, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { LiveService } from '../live/live.service.js';
import { LOGGER } from '../logging/nest-logger.js';
import { Problem } from '../problems/problem.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { JobEntity, type JobKind } from './job.entity.js';
import { Queue, type Lane } from './queue.js';

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
const SILENT_MS: Readonly<Record<Lane, number>> = { work: 2 * 60_000, 'waited-for': 20_000 };
/** So long somebody waits for a worker to take a job up, and this often it is asked how far it is. */
const PATIENCE_MS = 30_000;
const ASK_MS = 100;
const ASKS_BEFORE_BEGIN = 50;
/** Work that is over is shown for so long, and kept for so long. */
const KEPT_MS = 24 * 60 * 60_000;
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

  /**
   * Begins a job unless one of this kind and key is under way, failed a moment ago, or was stopped.
   * @param asked when it was seen that there is work left: one that ended since has done it
   */
  async begin(
    { id: workspaceId }: WorkspaceEntity,
    kind: JobKind,
    key: string,
    asked?: Date,
  ): Promise<void> {
    const job = { workspaceId, kind, key };
    if (await this.takeUpAgain(job)) return;
    const lately = MoreThan(new Date(this.clock.now().getTime() - REST_MS));
    const where = [
      { ...job, state: In(['waiting', 'running', 'stopped']) },
      { ...job, state: 'failed' as const, updatedAt: lately },
      ...(asked === undefined
        ? []
        : [{ ...job, state: 'done' as const, updatedAt: MoreThanOrEqual(asked) }]),
    ];
    if (!(await this.jobs.existsBy(where))) await this.enqueue(workspaceId, kind, key);
  }

  /**
   * Begins a job as `begin` does, and waits until it is done.
   * @throws Problem WORK_FAILED, WORK_STOPPED, WORK_WAITING
   */
  async finish(entity: WorkspaceEntity, kind: JobKind, key: string): Promise<void> {
    for (let asks = 0; ; asks++) {
      // Again from time to time: its worker may be gone.
      if (asks % ASKS_BEFORE_BEGIN === 0) await this.begin(entity, kind, key);
      const job = await this.latest(entity, kind, key);
      switch (job?.state) {
        case 'done':
          return;
        case 'stopped':
          throw new Problem(
            'WORK_STOPPED',
            409,
            'This was stopped',
            'Somebody stopped the work that this needs. It can be begun again at the foot of the index.',
          );
        case undefined:
        case 'failed':
          throw new Problem(
            'WORK_FAILED',
            503,
            'This could not be worked out',
            job?.trouble ?? 'The work is gone. Try again.',
          );
        case 'waiting':
        case 'running':
          this.demandWorker(job);
          await setTimeout(ASK_MS);
      }
    }
  }

  private demandWorker({ state, createdAt }: JobEntity): void {
    const waited = this.clock.now().getTime() - createdAt.getTime();
    if (state !== 'waiting' || waited < PATIENCE_MS) return;
    throw new Problem(
      'WORK_WAITING',
      503,
      'No worker has taken this up',
      'The work that this needs still waits in the queue. Start a worker process, or try again when those there are have less to do.',
    );
  }

  /** Sends a job once more of which nothing was heard: its sender or its workers are gone. Doing one twice harms nothing. */
  private async takeUpAgain(
    job: Pick<JobEntity, 'workspaceId' | 'kind' | 'key'>,
  ): Promise<boolean> {
    const now = this.clock.now();
    const silent = await this.jobs.findOneBy({
      ...job,
      state: In(['waiting', 'running']),
      updatedAt: LessThan(new Date(now.getTime() - SILENT_MS[laneOf(job.kind)])),
    });
    if (silent === null) return false;
    await this.jobs.update({ id: silent.id }, { updatedAt: now });
    await this.queue.send(silent.id, laneOf(job.kind));
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
    await this.queue.send(id, laneOf(kind));
    const past = LessThan(new Date(now.getTime() - KEPT_MS));
    await this.jobs.delete({ workspaceId, state: 'done', updatedAt: past });
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

function laneOf(kind: JobKind): Lane {
  return WAITED_FOR.has(kind) ? 'waited-for' : 'work';
}
const WAITED_FOR: ReadonlySet<JobKind> = new Set(['scan', 'draft', 'findings', 'clearing']);

function unknownJob(detail: string): Problem {
  return new Problem('JOB_UNKNOWN', 404, 'No such work', detail);
}
