import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Repository } from 'typeorm';
import {
  draftBase,
  figuresOf,
  findAll,
  mutesOf,
  readWorkspace,
  recordsAsOf,
  requiredPackages,
  standOfBase,
  type DraftBase,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { GitFiles } from '../git/git-files.js';
import { GitHistory, type CommitInfo } from '../git/git-history.js';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { RegistryService } from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import { ScanService } from '../scan/scan.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { CommitFiguresEntity } from './commit-figures.entity.js';

/** Older commits are not looked at. */
const MOST_COMMITS = 400;

export interface HistoryState {
  /** Commits that are looked at, oldest first, as far as they are done. */
  readonly points: readonly CommitFiguresEntity[];
  readonly total: number;
  /** The newest of them are done, so that what they brought can be told. */
  readonly isNewestDone: boolean;
  /** Why it went no further, for people; null: it is done, or goes on. */
  readonly trouble: string | null;
}

/** Works out, as a job, how a workspace stood at each of its commits, and keeps it. */
@Injectable()
export class FindingsHistory {
  constructor(
    private readonly history: GitHistory,
    private readonly files: GitFiles,
    private readonly registries: RegistryService,
    private readonly scans: ScanService,
    @InjectRepository(CommitFiguresEntity) private readonly kept: Repository<CommitFiguresEntity>,
    private readonly snapshots: SnapshotService,
    private readonly jobs: JobsService,
    private readonly clock: Clock,
  ) {
    jobs.register('findings-history', (entity, _, watch) => this.work(entity, watch));
  }

  /** What is known so far; the work for the rest is begun. */
  async state(entity: WorkspaceEntity, head: string): Promise<HistoryState> {
    const asked = this.clock.now();
    const commits = await this.commits(entity, head);
    const kept = await this.keptOf(entity.id);
    const points = commits.flatMap(({ commit }) => kept.get(commit) ?? []);
    const isDone = points.length === commits.length;
    if (!isDone) await this.jobs.begin(entity, 'findings-history', head, asked);
    const job = isDone ? null : await this.jobs.latest(entity, 'findings-history', head);
    return {
      points,
      total: commits.length,
      isNewestDone: commits.every(({ commit }, i) => i < commits.length - 1 || kept.has(commit)),
      trouble: job?.trouble ?? null,
    };
  }

  private async commits({ id }: WorkspaceEntity, head: string): Promise<readonly CommitInfo[]> {
    const newest = await this.history.commits(id, head, 0, MOST_COMMITS);
    return [...newest].reverse();
  }

  private async keptOf(id: string): Promise<ReadonlyMap<string, CommitFiguresEntity>> {
    const rows = await this.kept.findBy({ workspaceId: id });
    return new Map(rows.map((row) => [row.commit, row]));
  }

  /** The newest first, so that what began lately is known soon. */
  private async work(entity: WorkspaceEntity, watch: JobWatch): Promise<void> {
    const { head } = await this.snapshots.read(entity);
    const commits = await this.commits(entity, head.commit);
    const kept = await this.keptOf(entity.id);
    const open = [...commits].reverse().filter(({ commit }) => !kept.has(commit));
    let done = kept.size;
    let later: DraftBase | null = null;
    for await (const [commit, files] of this.files.filesOfEach(entity.id, open)) {
      const base = await this.baseAt(entity, commit, files, later);
      await this.kept.upsert(await this.figures(entity, commit, base), ['workspaceId', 'commit']);
      later = base;
      done += 1;
      await watch.progress(Math.min(done, commits.length), commits.length);
    }
  }

  /** @param later the workspace at another commit, of which most is the same */
  private async baseAt(
    entity: WorkspaceEntity,
    { at }: CommitInfo,
    files: WorkspaceFiles,
    later: DraftBase | null,
  ): Promise<DraftBase> {
    const reading = readWorkspace(files, later?.reading);
    const { workspace } = reading;
    const names = workspace === null ? [] : requiredPackages(workspace);
    const { records } = await this.registries.read(sourcesOf(entity, workspace), names);
    const day = new Date(at).toISOString().slice(0, 10);
    return draftBase(files, recordsAsOf(records, day), day, reading, undefined, later);
  }

  private async figures(
    entity: WorkspaceEntity,
    { commit, subject, author, at }: CommitInfo,
    base: DraftBase,
  ): Promise<CommitFiguresEntity> {
    const { workspace } = base;
    const use = workspace === null ? null : await this.scans.work(entity, commit, workspace);
    const stand = standOfBase(base, { use, needless: null });
    const muted = mutesOf(workspace, base.today);
    const findings = findAll(stand);
    const open = findings.filter(({ id }) => !muted.has(id));
    return {
      workspaceId: entity.id,
      commit,
      subject,
      author,
      at: new Date(at),
      figures: figuresOf(stand, open),
      findings: findings.map(({ id }) => id),
    };
  }
}
