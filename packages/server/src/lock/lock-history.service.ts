import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import type { Repository } from 'typeorm';
import { LOCK_FILE, lockSum, printLock, readLock, type KnownBlocks } from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { MOST_LOCKFILE_BYTES } from '../git/file-limits.js';
import { GitFiles } from '../git/git-files.js';
import { GitHistory, type HistoryCommit } from '../git/git-history.js';
import type { JobEntity } from '../jobs/job.entity.js';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { LockCommitEntity } from './lock-commit.entity.js';

/** Older commits are not looked at. */
const MOST_COMMITS = 2000;
const ROWS_AT_ONCE = 20;

export interface LockHistory {
  /** Commits that changed the lockfile, oldest first, as far as they are known. */
  readonly commits: readonly LockCommitEntity[];
  readonly isDone: boolean;
  /** The work that finds out the rest. */
  readonly job: JobEntity | null;
}

/** What each commit did to the lockfile, found out once by a job and kept. */
@Injectable()
export class LockHistoryService {
  /** Of heads whose history is worked out: it never changes. */
  private readonly done = new LRUCache<string, LockHistory>({ max: 16 });

  constructor(
    private readonly history: GitHistory,
    private readonly files: GitFiles,
    private readonly snapshots: SnapshotService,
    private readonly jobs: JobsService,
    private readonly clock: Clock,
    @InjectRepository(LockCommitEntity) private readonly kept: Repository<LockCommitEntity>,
  ) {
    jobs.register('lock-history', (entity, _, watch) => this.work(entity, watch));
  }

  /** What is known; the work for the rest is begun. */
  async of(entity: WorkspaceEntity, head: string): Promise<LockHistory> {
    const known = this.done.get(`${entity.id} ${head}`);
    if (known !== undefined) return known;
    const asked = this.clock.now();
    const [commits, kept] = await Promise.all([this.commits(entity, head), this.keptOf(entity.id)]);
    const found = commits.flatMap(({ commit }) => kept.get(commit) ?? []);
    const isDone = found.length === commits.length;
    // The work may have ended while this was read.
    if (!isDone) await this.jobs.begin(entity, 'lock-history', head, asked);
    const job = isDone ? null : await this.jobs.latest(entity, 'lock-history', head);
    const history = { commits: found, isDone, job };
    if (isDone) this.done.set(`${entity.id} ${head}`, history);
    return history;
  }

  /** Oldest first. */
  private async commits({ id }: WorkspaceEntity, head: string): Promise<readonly HistoryCommit[]> {
    const newest = await this.history.commits(id, head, 0, MOST_COMMITS);
    return newest.filter(({ files }) => files.includes(LOCK_FILE)).reverse();
  }

  private async keptOf(id: string): Promise<ReadonlyMap<string, LockCommitEntity>> {
    const rows = await this.kept.findBy({ workspaceId: id });
    return new Map(rows.map((row) => [row.commit, row]));
  }

  private async work(entity: WorkspaceEntity, watch: JobWatch): Promise<void> {
    const { head } = await this.snapshots.read(entity);
    const commits = await this.commits(entity, head.commit);
    const kept = await this.keptOf(entity.id);
    const blocks: KnownBlocks = new Map();
    let present = new Set<string>();
    let fresh: LockCommitEntity[] = [];
    const save = async (): Promise<void> => {
      await this.kept.upsert(fresh, ['workspaceId', 'commit']);
      fresh = [];
    };
    for (const [i, commit] of commits.entries()) {
      const known = kept.get(commit.commit);
      if (known !== undefined) {
        for (const name of known.left) present.delete(name);
        for (const name of known.entered) present.add(name);
        continue;
      }
      const row = await this.row(entity.id, commit, present, blocks);
      fresh.push(row.entity);
      present = row.present;
      if (fresh.length === ROWS_AT_ONCE) await save();
      await watch.progress(i + 1, commits.length);
    }
    await save();
  }

  private async row(
    workspaceId: string,
    { commit, subject, author, at }: HistoryCommit,
    before: Set<string>,
    blocks: KnownBlocks,
  ): Promise<{ entity: LockCommitEntity; present: Set<string> }> {
    const text = await this.files.readFile(workspaceId, commit, LOCK_FILE, MOST_LOCKFILE_BYTES);
    const reading = text === null ? null : readLock(text, blocks);
    const common = { workspaceId, commit, subject, author, at: new Date(at) };
    if (reading?.kind !== 'read')
      return {
        entity: { ...common, sum: null, copies: 0, entered: [], left: [] },
        present: before,
      };
    const { copies } = reading.resolution;
    const present = new Set(copies.map(({ name, version }) => `${name} ${version}`));
    return {
      entity: {
        ...common,
        sum: lockSum(printLock(reading.resolution)),
        copies: copies.length,
        entered: [...present].filter((name) => !before.has(name)),
        left: [...before].filter((name) => !present.has(name)),
      },
      present,
    };
  }
}
