import { createHash } from 'node:crypto';
import { promisify } from 'node:util';
import { deserialize, serialize } from 'node:v8';
import { gunzip, gzip } from 'node:zlib';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import { LessThan, type Repository } from 'typeorm';
import {
  answerQuestion,
  type Answers,
  type DraftBase,
  type QuestionOf,
  type SourceUse,
  type WorkspaceQuestion,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import type { JobKind } from '../jobs/job.entity.js';
import { noteAwaited, type AwaitedWork } from '../jobs/awaited-work.js';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { KnownService } from '../scan/known.service.js';
import { ScanService } from '../scan/scan.service.js';
import { PRODUCT_VERSION } from '../product-version.js';
import { SETTINGS, type Settings } from '../settings.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Material, Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { AnswerEntity } from './answer.entity.js';
import { BaseThread } from './base-thread.js';

const zip = promisify(gzip);
const unzip = promisify(gunzip);

const KEPT_MS = 24 * 60 * 60_000;
const MOST_IN_MIND = 16;
/** While a thread works, this often it is told that it does, and heard whether somebody has stopped it. */
const BEAT_MS = 500;

const JOBS: Readonly<Record<WorkspaceQuestion['kind'], JobKind>> = {
  draft: 'draft',
  'suggested-fixes': 'draft',
  findings: 'findings',
  remedies: 'findings',
  several: 'several',
  clearing: 'clearing',
  'upgrade-trials': 'upgrades',
  'upgrade-batch': 'upgrades',
};
const JOB_KINDS = new Set(Object.values(JOBS));

type AnyAnswer = Answers[WorkspaceQuestion['kind']];

/**
 * Works out what is asked about a workspace: at once where that is quick, else as a job that a worker process takes
 * from the queue. Other servers have an answer that one server has worked out.
 */
@Injectable()
export class AnswersService {
  private readonly uses = new LRUCache<string, SourceUse>({ max: 2 });
  private readonly inMind = new WeakMap<DraftBase, LRUCache<string, Promise<AnyAnswer>>>();

  constructor(
    @InjectRepository(AnswerEntity) private readonly kept: Repository<AnswerEntity>,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly jobs: JobsService,
    private readonly known: KnownService,
    private readonly scans: ScanService,
    private readonly snapshots: SnapshotService,
    private readonly thread: BaseThread,
    private readonly clock: Clock,
  ) {
    for (const kind of JOB_KINDS)
      jobs.register(kind, (entity, key, watch) => this.work(entity, key, watch));
  }

  /** @throws Problem WORK_FAILED, WORK_STOPPED, WORK_WAITING */
  ask<K extends WorkspaceQuestion['kind']>(
    entity: WorkspaceEntity,
    snapshot: Snapshot,
    question: QuestionOf<K>,
  ): Promise<Answers[K]> {
    const { base } = snapshot;
    const inMind =
      this.inMind.get(base) ?? new LRUCache<string, Promise<AnyAnswer>>({ max: MOST_IN_MIND });
    this.inMind.set(base, inMind);
    const isScanned = this.known.atHand(base).use !== null;
    const key = JSON.stringify([isScanned, question]);
    const isLong = this.isLong(base, question);
    const work = isLong ? workOf(entity, snapshot, question) : null;
    if (work !== null) noteAwaited(work);
    const asked =
      inMind.get(key) ??
      (work === null
        ? this.answerHere(base, question)
        : this.askWorkers(entity, snapshot, question, work));
    inMind.set(key, asked);
    // What failed once may go well when it is asked for again.
    asked.catch(() => inMind.delete(key));
    return asked as Promise<Answers[K]>;
  }

  /** Would it hold up everybody if the server did it? */
  isLong({ lock, records }: DraftBase, { kind }: WorkspaceQuestion): boolean {
    const size = Math.max(lock?.resolution?.copies.length ?? 0, records.size);
    return kind === 'clearing' || kind === 'upgrade-batch' || size > this.settings.copiesAtOnce;
  }

  private async answerHere(base: DraftBase, question: WorkspaceQuestion): Promise<AnyAnswer> {
    return Promise.resolve(answerQuestion({ base, known: this.known.atHand(base) }, question));
  }

  private async askWorkers(
    entity: WorkspaceEntity,
    { head: { commit } }: Snapshot,
    question: WorkspaceQuestion,
    { kind, key }: AwaitedWork,
  ): Promise<AnyAnswer> {
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

  private async work(entity: WorkspaceEntity, key: string, watch: JobWatch): Promise<void> {
    const where = { workspaceId: entity.id, key };
    const asked = await this.kept.findOneBy(where);
    if (asked === null || asked.found !== null) return;
    const answer = await this.answerAt(entity, asked, watch);
    await this.kept.update(where, { found: await zip(serialize(answer)) });
  }

  private async answerAt(
    entity: WorkspaceEntity,
    asked: AnswerEntity,
    watch: JobWatch,
  ): Promise<AnyAnswer> {
    const answer = await this.inThread(entity, asked, watch);
    if (asked.question.kind !== 'draft' || (answer as Answers['draft']).kind !== 'ask')
      return answer;
    this.snapshots.alsoRead(entity, (answer as { names: readonly string[] }).names);
    return this.inThread(entity, asked, watch);
  }

  private async inThread(
    entity: WorkspaceEntity,
    { commit, question }: AnswerEntity,
    watch: JobWatch,
  ): Promise<AnyAnswer> {
    const material = await this.snapshots.material(entity, commit, watch.signal);
    const use = await this.use(entity, material, watch);
    const stop = new AbortController();
    let far: readonly [done: number, total: number] = [0, 0];
    const beat = setInterval(() => {
      watch.progress(...far).catch((error: unknown) => stop.abort(error));
    }, BEAT_MS);
    const stopped = AbortSignal.any([stop.signal, watch.signal]);
    try {
      return await this.thread.ask({ material, use }, question, stopped, (...now) => {
        far = now;
      });
    } finally {
      clearInterval(beat);
    }
  }

  /** The packages that source refers to; kept while work is on the same commit. */
  private async use(
    entity: WorkspaceEntity,
    { commit, point, reading: { workspace } }: Material,
    watch: JobWatch,
  ): Promise<SourceUse | null> {
    if (workspace === null) return null;
    const key = `${entity.id} ${point}`;
    const use = this.uses.get(key) ?? (await this.scans.work(entity, commit, workspace, watch));
    this.uses.set(key, use);
    return use;
  }
}

/** The job that answers a question; the same question about the same has the same. */
function workOf(
  entity: WorkspaceEntity,
  { head: { commit }, base: { today }, registry: { fingerprint } }: Snapshot,
  question: WorkspaceQuestion,
): AwaitedWork {
  const { registries, bringIn } = entity;
  const about = [PRODUCT_VERSION, registries, bringIn, commit, today, fingerprint, question];
  const key = createHash('sha256').update(JSON.stringify(about)).digest('hex');
  return { workspace: entity, kind: JOBS[question.kind], key };
}

async function read(found: Buffer): Promise<AnyAnswer> {
  return deserialize(await unzip(found)) as AnyAnswer;
}
