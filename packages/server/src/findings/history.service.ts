import { setImmediate } from 'node:timers/promises';
import { Inject, Injectable, type OnModuleDestroy } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Logger } from 'pino';
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
} from '@deep-ledger/core';
import { GitHistory, type CommitInfo } from '../git/git-history.js';
import { LOGGER } from '../logging/nest-logger.js';
import { RegistryService } from '../registry/registry.service.js';
import { ScanService } from '../scan/scan.service.js';
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

interface Work {
  readonly head: string;
  stopped: boolean;
  trouble: string | null;
}

/** Works out in the background how a workspace stood at each of its commits, and keeps it. */
@Injectable()
export class FindingsHistory implements OnModuleDestroy {
  private readonly work = new Map<string, Work>();

  constructor(
    private readonly history: GitHistory,
    private readonly registries: RegistryService,
    private readonly scans: ScanService,
    @InjectRepository(CommitFiguresEntity) private readonly kept: Repository<CommitFiguresEntity>,
    @Inject(LOGGER) private readonly log: Logger,
  ) {}

  /** What is known so far; what is missing is begun. */
  async state(entity: WorkspaceEntity, head: string): Promise<HistoryState> {
    const commits = await this.commits(entity);
    const kept = await this.keptOf(entity.id);
    const points = commits.flatMap(({ commit }) => kept.get(commit) ?? []);
    const work = this.work.get(entity.id);
    // What failed is tried again when it is asked for again; the trouble is told once.
    const isOver = work === undefined || work.head !== head || work.trouble !== null;
    if (points.length < commits.length && isOver) {
      if (work !== undefined) work.stopped = true;
      const fresh: Work = { head, stopped: false, trouble: null };
      this.work.set(entity.id, fresh);
      void this.run(
        entity,
        commits.filter(({ commit }) => !kept.has(commit)),
        fresh,
      );
    }
    return {
      points,
      total: commits.length,
      isNewestDone: commits.every(({ commit }, i) => i < commits.length - 1 || kept.has(commit)),
      trouble: work?.head === head ? work.trouble : null,
    };
  }

  onModuleDestroy(): void {
    for (const work of this.work.values()) work.stopped = true;
  }

  private async commits(entity: WorkspaceEntity): Promise<readonly CommitInfo[]> {
    const newest = await this.history.commits(entity.id, entity.branch, 0, MOST_COMMITS);
    return [...newest].reverse();
  }

  private async keptOf(id: string): Promise<ReadonlyMap<string, CommitFiguresEntity>> {
    const rows = await this.kept.findBy({ workspaceId: id });
    return new Map(rows.map((row) => [row.commit, row]));
  }

  /** The newest first, so that what began lately is known soon. */
  private async run(
    entity: WorkspaceEntity,
    commits: readonly CommitInfo[],
    work: Work,
  ): Promise<void> {
    try {
      for (const commit of [...commits].reverse()) {
        if (work.stopped) return;
        const row = await this.figures(entity, commit);
        if (work.stopped) return;
        await this.kept.upsert(row, ['workspaceId', 'commit']);
        await setImmediate();
      }
    } catch (error) {
      if (work.stopped) return;
      work.trouble = error instanceof Error ? error.message : String(error);
      this.log.warn({ error }, 'the history of findings could not be worked out');
    }
  }

  private async figures(
    entity: WorkspaceEntity,
    { commit, subject, author, at }: CommitInfo,
  ): Promise<CommitFiguresEntity> {
    const files = await this.history.readFiles(entity.id, commit);
    const reading = readWorkspace(files);
    const { workspace } = reading;
    const day = new Date(at).toISOString().slice(0, 10);
    const names = workspace === null ? [] : requiredPackages(workspace);
    const { records } = await this.registries.read(entity.registryUrl, names);
    const base = draftBase(files, recordsAsOf(records, day), day, reading);
    const use = workspace === null ? null : await this.scans.use(entity.id, commit, workspace);
    const stand = standOfBase(base, { use, needless: null });
    const muted = mutesOf(workspace, day);
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
