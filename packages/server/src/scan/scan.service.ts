import { createHash } from 'node:crypto';
import { extname } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import pLimit from 'p-limit';
import { type Repository } from 'typeorm';
import {
  gatherUse,
  MOST_SOURCE_BYTES,
  projectOfFile,
  readWorkspace,
  SourceScanner,
  TOO_LARGE,
  type SourceScan,
  type SourceUse,
  type Workspace,
} from '@deep-ledger/core';
import { GitFiles } from '../git/git-files.js';
import { GitService } from '../git/git.service.js';
import type { TreeFile } from '../git/tree-file.js';
import { noteAwaited } from '../jobs/awaited-work.js';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { SETTINGS, type Settings } from '../settings.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { SourceScanEntity } from './source-scan.entity.js';
import { WorkerPool } from '../workers/worker-pool.js';

const MOST_RECENT = 50_000;
const BLOBS_AT_ONCE = 1000;
const BATCHES_AT_ONCE = 2;
const FILES_IN_A_TASK = 40;

interface SourceFile extends TreeFile {
  /** From the project's folder. */
  readonly inside: string;
  readonly key: string;
}

interface Standing {
  readonly scans: Map<string, SourceScan>;
  readonly open: readonly SourceFile[];
}

/** Finds out what the source of a workspace's projects refers to. */
@Injectable()
export class ScanService {
  /** Those that were asked for lately, so that a commit does not read all of them from the database. */
  private readonly recent = new LRUCache<string, SourceScan>({ max: MOST_RECENT });

  constructor(
    private readonly files: GitFiles,
    private readonly git: GitService,
    private readonly workers: WorkerPool,
    private readonly jobs: JobsService,
    @InjectRepository(SourceScanEntity) private readonly kept: Repository<SourceScanEntity>,
    @Inject(SETTINGS) private readonly settings: Settings,
  ) {
    jobs.register('scan', (entity, commit, watch) => this.workJob(entity, commit, watch));
  }

  /**
   * What source refers to at a commit. Where much of it was never scanned, a worker process is asked to do it.
   * @throws Problem WORK_FAILED, WORK_STOPPED, WORK_WAITING
   */
  async use(entity: WorkspaceEntity, commit: string, workspace: Workspace): Promise<SourceUse> {
    const standing = await this.standing(entity.id, commit, workspace);
    if (standing.open.length <= this.settings.filesAtOnce)
      return this.finished(entity.id, workspace, standing);
    noteAwaited({ workspace: entity, kind: 'scan', key: commit });
    await this.jobs.finish(entity, 'scan', commit);
    return this.work(entity, commit, workspace);
  }

  /** The same, done by this process. */
  async work(
    { id }: WorkspaceEntity,
    commit: string,
    workspace: Workspace,
    watch?: JobWatch,
  ): Promise<SourceUse> {
    return this.finished(id, workspace, await this.standing(id, commit, workspace), watch);
  }

  private async workJob(entity: WorkspaceEntity, commit: string, watch: JobWatch): Promise<void> {
    await this.git.fetch(entity, watch.signal);
    const { workspace } = readWorkspace(await this.files.readFiles(entity.id, commit));
    if (workspace !== null) await this.work(entity, commit, workspace, watch);
  }

  /** What is known already, and which files are not scanned yet. */
  private async standing(id: string, commit: string, workspace: Workspace): Promise<Standing> {
    const scanner = new SourceScanner(workspace.scan);
    const files = await this.sourceFiles(id, commit, workspace, scanner);
    const known = await this.known(files);
    const scans = new Map<string, SourceScan>();
    const open: SourceFile[] = [];
    for (const file of files) {
      const found = known.get(file.key);
      if (file.bytes > MOST_SOURCE_BYTES) scans.set(file.path, TOO_LARGE);
      else if (found === undefined) open.push(file);
      else scans.set(file.path, found);
    }
    return { scans, open };
  }

  private async finished(
    id: string,
    workspace: Workspace,
    { scans, open }: Standing,
    watch?: JobWatch,
  ): Promise<SourceUse> {
    // While some are scanned in worker threads, the next are read.
    const turns = pLimit(BATCHES_AT_ONCE);
    let done = 0;
    const batches: Promise<void>[] = [];
    for (let i = 0; i < open.length; i += BLOBS_AT_ONCE) {
      const batch = open.slice(i, i + BLOBS_AT_ONCE);
      batches.push(
        turns(async () => {
          await this.scan(id, workspace, batch, scans);
          done += batch.length;
          await watch?.progress(done, open.length);
        }),
      );
    }
    try {
      await Promise.all(batches);
    } finally {
      turns.clearQueue();
    }
    return gatherUse(workspace.projects, scans);
  }

  private async sourceFiles(
    id: string,
    commit: string,
    { projects }: Workspace,
    scanner: SourceScanner,
  ): Promise<readonly SourceFile[]> {
    const folders = new Set(projects.map(({ folder }) => folder));
    const told = createHash('sha256').update(scanner.key).digest('hex').slice(0, 16);
    return (await this.files.tree(id, commit)).flatMap((file) => {
      const project = projectOfFile(folders, file.path);
      if (project === null || !scanner.isSource(project.inside)) return [];
      const { inside } = project;
      // Patterns look at the whole path; what the scan itself does depends on the ending alone.
      const name = scanner.hasPatternsFor(inside) ? inside : extname(inside).toLowerCase();
      return [{ ...file, inside, key: `${file.oid} ${told} ${name}` }];
    });
  }

  private async known(files: readonly SourceFile[]): Promise<ReadonlyMap<string, SourceScan>> {
    const known = new Map<string, SourceScan>();
    const keys: string[] = [];
    for (const { key } of files) {
      const found = this.recent.get(key);
      if (found === undefined) keys.push(key);
      else known.set(key, found);
    }
    if (keys.length === 0) return known;
    const rows = (await this.kept.query(
      'SELECT "key", "found" FROM "source_scan" WHERE "key" = ANY($1)',
      [keys],
    )) as { key: string; found: SourceScan }[];
    for (const { key, found } of rows) {
      this.recent.set(key, found);
      known.set(key, found);
    }
    return known;
  }

  private async scan(
    id: string,
    workspace: Workspace,
    files: readonly SourceFile[],
    scans: Map<string, SourceScan>,
  ): Promise<void> {
    const texts = await this.files.readBlobs(id, files);
    const sources = files.map(({ inside }, i) => ({ path: inside, text: texts[i]! }));
    const tasks: Promise<readonly SourceScan[]>[] = [];
    for (let i = 0; i < sources.length; i += FILES_IN_A_TASK) {
      const some = sources.slice(i, i + FILES_IN_A_TASK);
      tasks.push(this.workers.run('scanFiles', { settings: workspace.scan, files: some }));
    }
    const found = (await Promise.all(tasks)).flat();
    const rows = new Map(files.map(({ key }, i) => [key, found[i]!]));
    await this.kept.query(
      `INSERT INTO "source_scan" ("key", "found")
       SELECT * FROM unnest($1::text[], $2::jsonb[]) ON CONFLICT ("key") DO NOTHING`,
      [[...rows.keys()], [...rows.values()].map((one) => withoutNull(JSON.stringify(one)))],
    );
    files.forEach(({ path, key }, i) => {
      this.recent.set(key, found[i]!);
      scans.set(path, found[i]!);
    });
  }
}

/** PostgreSQL's JSON knows no character zero. */
function withoutNull(json: string): string {
  return json.replaceAll('\\u0000', '\\ufffd');
}
