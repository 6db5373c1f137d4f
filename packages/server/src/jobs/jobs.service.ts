import { randomUUID } from 'node:crypto';
import { setTimeout } from 'node:timers/promises';
import {
  Inject,
  Injectable,
  type OnApplicationBootstrap,
  type OnModuleDestroy,
} from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Logger } from 'pino';
import { In, LessThan, MoreThan, MoreThanOrEqual, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { LiveService } from '../live/live.service.js';
import { LOGGER } from '../logging/nest-logger.js';
import { isDatabaseAway } from '../database/is-database-away.js';
import { Problem } from '../problems/problem.js';
import { SETTINGS, type Settings } from '../settings.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { AwaitedWork } from './awaited-work.js';
import { JOB_KINDS, JobEntity, type JobKind } from './job.entity.js';
import { toJob } from './jobs.mapper.js';
import { Queue, type Lane } from './queue.js';

/** What a job's work is given to tell how far it is. */
export interface JobWatch {
  /** @throws JobStopped once somebody has stopped the job, or another process has taken it up */
  readonly progress: (done: number, total: number) => Promise<void>;
  /** Aborted then, also between two steps. */
  readonly signal: AbortSignal;
}

export type JobWork = (entity: WorkspaceEntity, key: string, watch: JobWatch) => Promise<void>;

/** Somebody stopped the job. */
export class JobStopped extends Error {}

const TELL_MS = 300;
/** A job that has failed rests for so long before it is begun again by itself. */
const REST_MS = 30_000;
/** A process that works on a job says so this often; one that has not for so long is taken for gone. */
const BEAT_MS = 2_000;
const LEASE_MS = 8_000;
/** A job that has waited for so long and is not in the queue is sent again: its sender may be gone. */
const UNTAKEN_MS = 15_000;
/** How long a caller waits for a sign of any worker. */
const PATIENCE_MS = 30_000;
/** A caller asks how far the job is, at first this often and then ever more rarely, since many may wait. */
const ASK_MS = 100;
const ASK_RARELY_MS = 500;
/** Work that is over is shown for so long, and kept for so long. */
const KEPT_MS = 24 * 60 * 60_000;
const SHOWN_MS = 60 * 60_000;

/** Long work: begun by servers, done by worker processes, told of to everybody. */
@Injectable()
export class JobsService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly works = new Map<JobKind, JobWork>();
  /** Of this process, in leases. */
  private readonly self = randomUUID();
  private readonly ended = new AbortController();

  constructor(
    @InjectRepository(JobEntity) private readonly jobs: Repository<JobEntity>,
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
    @Inject(LOGGER) private readonly log: Logger,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly queue: Queue,
    private readonly live: LiveService,
    private readonly clock: Clock,
  ) {
    queue.handle((id) => this.run(id));
  }

  onApplicationBootstrap(): void {
    if (this.settings.works) void this.lookAfterLost();
  }

  onModuleDestroy(): void {
    this.ended.abort();
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
    await this.begin(entity, kind, key);
    for (let rest = ASK_MS; ; rest = Math.min(rest * 1.1, ASK_RARELY_MS)) {
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
          await this.demandWorker(job);
          await setTimeout(rest);
      }
    }
  }

  /** A job may wait behind others for long; a lane in which nobody has worked for long has no worker. */
  private async demandWorker({ state, kind, createdAt }: JobEntity): Promise<void> {
    const since = new Date(this.clock.now().getTime() - PATIENCE_MS);
    if (state !== 'waiting' || createdAt > since) return;
    const beside = JOB_KINDS.filter((one) => laneOf(one) === laneOf(kind));
    if (await this.jobs.existsBy({ kind: In(beside), leaseUntil: MoreThan(since) })) return;
    throw new Problem(
      'WORK_WAITING',
      503,
      'No worker has taken this up',
      'The work that this needs waits in the queue, and for half a minute nobody has taken anything out of it. Start a worker process, or see in its log what ails it.',
    );
  }

  /** Sends those jobs again whose worker is gone, or that nobody has taken up. */
  private async lookAfterLost(): Promise<void> {
    const { signal } = this.ended;
    while (!signal.aborted) {
      await this.sendLost().catch((error: unknown) => {
        this.log.warn({ err: error }, 'jobs cannot be looked after');
      });
      await setTimeout(BEAT_MS, undefined, { signal }).catch(() => undefined);
    }
  }

  private async sendLost(): Promise<void> {
    const lost = (await this.jobs.query(
      `UPDATE "job" SET "state" = 'waiting', "claimed_by" = NULL, "lease_until" = NULL, "updated_at" = now()
       WHERE ("state" = 'running' AND COALESCE("lease_until", "updated_at") < now())
         OR ("state" = 'waiting' AND "updated_at" < now() - $1 * interval '1 millisecond'
           AND NOT EXISTS (SELECT FROM "queue"."job" "sent"
             WHERE "sent"."data"->>'id' = "job"."id"::text AND "sent"."state" IN ('created', 'retry')))
       RETURNING "id", "kind"`,
      [UNTAKEN_MS],
    )) as readonly [readonly Pick<JobEntity, 'id' | 'kind'>[], number];
    for (const { id, kind } of lost[0]) await this.queue.send(id, laneOf(kind));
  }

  /** The last job of a kind and key; null: there was none. */
  latest(
    { id }: Pick<WorkspaceEntity, 'id'>,
    kind: JobKind,
    key: string,
  ): Promise<JobEntity | null> {
    return this.jobs.findOne({
      where: { workspaceId: id, kind, key },
      order: { createdAt: 'DESC' },
    });
  }

  /** The first of these jobs that is not over yet; null: none. */
  async underWay(works: readonly AwaitedWork[]): Promise<JobEntity | null> {
    for (const { workspace, kind, key } of works) {
      const job = await this.latest(workspace, kind, key);
      if (job?.state === 'waiting' || job?.state === 'running') return job;
    }
    return null;
  }

  /** Does one of a kind wait or run, whatever its key? */
  isUnderWay({ id }: Pick<WorkspaceEntity, 'id'>, kind: JobKind): Promise<boolean> {
    return this.jobs.existsBy({ workspaceId: id, kind, state: In(['waiting', 'running']) });
  }

  /** @throws Problem JOB_UNKNOWN */
  async one({ id: workspaceId }: WorkspaceEntity, id: string): Promise<JobEntity> {
    const job = await this.jobs.findOneBy({ id, workspaceId });
    if (job === null) throw unknownJob('It is not there. Work that is over is kept for a day.');
    return job;
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

  /**
   * In a worker process. Tells of work that fails, and leaves it. Work that is stopped frees its place at once. When
   * this process closes, its jobs are left to another one.
   */
  private async run(id: string): Promise<void> {
    const job = this.ended.signal.aborted ? null : await this.claim(id);
    if (job === null) return;
    const entity = await this.workspaces.findOneByOrFail({ id: job.workspaceId });
    const work = this.works.get(job.kind);
    if (work === undefined)
      return this.end(job, { state: 'failed', trouble: 'This kind of work is no longer known.' });
    const over = new AbortController();
    const giveUp = (): void => over.abort(new JobStopped());
    this.ended.signal.addEventListener('abort', giveUp, { once: true });
    const beat = setInterval(() => {
      this.renew(id).then(
        (isOurs) => {
          if (!isOurs) giveUp();
        },
        // The database may be back before the lease is over.
        (error: unknown) => this.log.warn({ err: error, job: id }, 'a lease cannot be renewed'),
      );
    }, BEAT_MS);
    try {
      await this.tell(job, { ...job, state: 'running' });
      const watch = { progress: this.progressOf(job, over), signal: over.signal };
      await Promise.race([work(entity, job.key, watch), aborted(over.signal)]);
      await this.end(job, { state: 'done', trouble: null });
    } catch (error) {
      if (error instanceof JobStopped || isDatabaseAway(error)) return;
      this.log.warn({ err: error, job: id, kind: job.kind }, 'a job failed');
      const trouble =
        error instanceof Problem
          ? error.detail
          : `The work failed: ${error instanceof Error ? error.message : String(error)}`;
      await this.end(job, { state: 'failed', trouble });
    } finally {
      clearInterval(beat);
      this.ended.signal.removeEventListener('abort', giveUp);
    }
  }

  private progressOf(job: JobEntity, over: AbortController): JobWatch['progress'] {
    let toldAt = 0;
    return async (done, total) => {
      over.signal.throwIfAborted();
      const now = this.clock.now();
      if (now.getTime() - toldAt < TELL_MS && done < total) return;
      toldAt = now.getTime();
      const { affected } = await this.jobs.update(
        { id: job.id, state: 'running', claimedBy: this.self },
        { done, total, updatedAt: now },
      );
      if (affected !== 1) {
        over.abort(new JobStopped());
        throw new JobStopped();
      }
      await this.tell(job, { ...job, state: 'running', done, total, updatedAt: now });
    };
  }

  /** Takes a job that nobody works on; null: somebody does, or it is over. */
  private async claim(id: string): Promise<JobEntity | null> {
    const { affected } = await this.jobs
      .createQueryBuilder()
      .update()
      .set({
        state: 'running',
        claimedBy: this.self,
        leaseUntil: () => `now() + interval '${LEASE_MS} milliseconds'`,
        updatedAt: this.clock.now(),
      })
      .where(`"id" = :id AND "state" IN ('waiting', 'running')`, { id })
      .andWhere('("lease_until" IS NULL OR "lease_until" < now())')
      .execute();
    return affected === 1 ? this.jobs.findOneBy({ id, claimedBy: this.self }) : null;
  }

  private async renew(id: string): Promise<boolean> {
    const { affected } = await this.jobs
      .createQueryBuilder()
      .update()
      .set({ leaseUntil: () => `now() + interval '${LEASE_MS} milliseconds'` })
      .where({ id, state: 'running', claimedBy: this.self })
      .execute();
    return affected === 1;
  }

  private async end(job: JobEntity, values: Pick<JobEntity, 'state' | 'trouble'>): Promise<void> {
    const updatedAt = this.clock.now();
    await this.jobs.update(
      { id: job.id, state: 'running', claimedBy: this.self },
      { ...values, updatedAt },
    );
    await this.tell(job, { ...job, ...values, updatedAt });
  }

  private tell({ workspaceId }: JobEntity, job: JobEntity): Promise<void> {
    return this.live.tell(workspaceId, 'jobs', toJob(job));
  }
}

/** Fails once a signal is aborted. */
function aborted(signal: AbortSignal): Promise<never> {
  return new Promise((_, reject) => {
    signal.addEventListener('abort', () => reject(signal.reason as Error), { once: true });
  });
}

function laneOf(kind: JobKind): Lane {
  return WAITED_FOR.has(kind) ? 'waited-for' : 'work';
}
const WAITED_FOR: ReadonlySet<JobKind> = new Set([
  'scan',
  'draft',
  'findings',
  'clearing',
  'several',
  'upgrades',
  'merge',
]);

function unknownJob(detail: string): Problem {
  return new Problem('JOB_UNKNOWN', 404, 'No such work', detail);
}
