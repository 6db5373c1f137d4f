import { createHash } from 'node:crypto';
import { Inject, Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import {
  answerQuestion,
  type Answers,
  type DraftBase,
  type QuestionOf,
  type SourceUse,
  type WorkspaceQuestion,
} from '@deep-ledger/core';
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
import { AnswerStore } from './answer-store.js';
import { BaseThread } from './base-thread.js';

const MOST_IN_MIND = 16;
/** More upgrades than this are tried by a worker process, whatever the workspace. */
const TRIALS_AT_ONCE = 50;
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
    private readonly store: AnswerStore,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly known: KnownService,
    private readonly scans: ScanService,
    private readonly snapshots: SnapshotService,
    private readonly thread: BaseThread,
    jobs: JobsService,
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
    // Also where somebody else's request has asked the same already.
    if (work !== null) noteAwaited(work);
    const asked =
      inMind.get(key) ??
      (work === null
        ? this.answerHere(base, question)
        : (this.store.ask(entity, work, snapshot.head.commit, question) as Promise<AnyAnswer>));
    inMind.set(key, asked);
    // What failed once may go well when it is asked for again.
    asked.catch(() => inMind.delete(key));
    return asked as Promise<Answers[K]>;
  }

  /** Would it hold up everybody if the server did it? */
  isLong(base: DraftBase, question: WorkspaceQuestion): boolean {
    const { kind } = question;
    const isMuch =
      kind === 'clearing' ||
      kind === 'upgrade-batch' ||
      (kind === 'upgrade-trials' && question.upgrades.length > TRIALS_AT_ONCE);
    return isMuch || this.isLarge(base);
  }

  /** Is a workspace too large for the server to work anything out about it itself? */
  isLarge({ lock, records }: DraftBase): boolean {
    return (
      Math.max(lock?.resolution?.copies.length ?? 0, records.size) > this.settings.copiesAtOnce
    );
  }

  private async answerHere(base: DraftBase, question: WorkspaceQuestion): Promise<AnyAnswer> {
    return Promise.resolve(answerQuestion({ base, known: this.known.atHand(base) }, question));
  }

  private work(entity: WorkspaceEntity, key: string, watch: JobWatch): Promise<void> {
    return this.store.fill<WorkspaceQuestion>(entity, key, (commit, question) =>
      this.answerAt(entity, commit, question, watch),
    );
  }

  private async answerAt(
    entity: WorkspaceEntity,
    commit: string,
    question: WorkspaceQuestion,
    watch: JobWatch,
  ): Promise<AnyAnswer> {
    const answer = await this.inThread(entity, commit, question, watch);
    if (question.kind !== 'draft' || (answer as Answers['draft']).kind !== 'ask') return answer;
    this.snapshots.alsoRead(entity, (answer as { names: readonly string[] }).names);
    return this.inThread(entity, commit, question, watch);
  }

  private async inThread(
    entity: WorkspaceEntity,
    commit: string,
    question: WorkspaceQuestion,
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
