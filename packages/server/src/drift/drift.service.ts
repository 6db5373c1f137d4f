import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import type { Repository } from 'typeorm';
import { requiredPackages, readWorkspace } from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { GitFiles } from '../git/git-files.js';
import { GitHistory } from '../git/git-history.js';
import type { JobEntity } from '../jobs/job.entity.js';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { RegistryService } from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import type { DriftFound } from '../workers/drift-of.js';
import { WorkerPool } from '../workers/worker-pool.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { DriftPointEntity } from './drift-point.entity.js';

const WEEKS = 52;
const DAY_MS = 86_400_000;

export interface DriftOverTime {
  readonly points: readonly DriftPointEntity[];
  readonly total: number;
  readonly job: JobEntity | null;
}

/** A day and the commit at which the branch stood then. */
interface Point {
  readonly day: string;
  readonly commit: string;
}

/** What a resolution without the lockfile would give, or would have given. */
@Injectable()
export class DriftService {
  /** Lines that are worked out whole, by workspace, head and day: they do not change. */
  private readonly done = new LRUCache<string, DriftOverTime>({ max: 16 });

  constructor(
    private readonly history: GitHistory,
    private readonly files: GitFiles,
    private readonly snapshots: SnapshotService,
    private readonly registries: RegistryService,
    private readonly workers: WorkerPool,
    private readonly jobs: JobsService,
    private readonly clock: Clock,
    @InjectRepository(DriftPointEntity) private readonly kept: Repository<DriftPointEntity>,
  ) {
    jobs.register('drift', (entity, key, watch) => this.work(entity, key, watch));
  }

  /** @param from a day; null: the lockfile */
  of({ base }: Snapshot, day: string, from: string | null): Promise<DriftFound> {
    const { files, records } = base;
    return this.workers.run('driftOf', { files, records, day, from });
  }

  /** Week by week for a year, as far as it is known; the work for the rest is begun. */
  async overTime(entity: WorkspaceEntity, head: string): Promise<DriftOverTime> {
    const asked = this.clock.now();
    const key = `${head} ${this.clock.today()}`;
    const done = this.done.get(`${entity.id} ${key}`);
    if (done !== undefined) return done;
    const [points, rows] = await Promise.all([
      this.points(entity, head),
      this.kept.findBy({ workspaceId: entity.id }),
    ]);
    const known = new Map(rows.map((row) => [`${row.commit} ${row.day}`, row]));
    const found = points.flatMap(({ commit, day }) => known.get(`${commit} ${day}`) ?? []);
    const isDone = found.length === points.length;
    if (!isDone) await this.jobs.begin(entity, 'drift', key, asked);
    const job = isDone ? null : await this.jobs.latest(entity, 'drift', key);
    const overTime = { points: found, total: points.length, job };
    if (isDone) this.done.set(`${entity.id} ${key}`, overTime);
    return overTime;
  }

  private async points({ id }: WorkspaceEntity, head: string): Promise<readonly Point[]> {
    const today = Date.parse(this.clock.today());
    const days = Array.from({ length: WEEKS + 1 }, (_, i) =>
      new Date(today - (WEEKS - i) * 7 * DAY_MS).toISOString().slice(0, 10),
    );
    const commits = await this.history.commitsAtDays(id, head, days);
    return days.flatMap((day) => {
      const commit = commits.get(day);
      return commit === undefined ? [] : [{ day, commit }];
    });
  }

  private async work(entity: WorkspaceEntity, _: string, watch: JobWatch): Promise<void> {
    const { head } = await this.snapshots.read(entity);
    const points = await this.points(entity, head.commit);
    const rows = await this.kept.findBy({ workspaceId: entity.id });
    const known = new Set(rows.map(({ commit, day }) => `${commit} ${day}`));
    let done = 0;
    // The newest first: that is what people look at.
    for (const { day, commit } of [...points].reverse()) {
      done += 1;
      if (known.has(`${commit} ${day}`)) continue;
      const files = await this.files.readFiles(entity.id, commit);
      const { workspace } = readWorkspace(files);
      const names = workspace === null ? [] : requiredPackages(workspace);
      const { records } = await this.registries.read(sourcesOf(entity, workspace), names);
      const { lines } = await this.workers.run('driftOf', { files, records, day, from: null });
      const count = (is: (line: { from: string | null; to: string | null }) => boolean) =>
        lines === null ? null : lines.filter(is).length;
      await this.kept.upsert(
        {
          workspaceId: entity.id,
          commit,
          day,
          entered: count(({ from }) => from === null),
          left: count(({ to }) => to === null),
          moved: count(({ from, to }) => from !== null && to !== null),
        },
        ['workspaceId', 'commit', 'day'],
      );
      await watch.progress(done, points.length);
    }
  }
}
