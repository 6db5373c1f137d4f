import { createHash } from 'node:crypto';
import { extname } from 'node:path';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import pLimit from 'p-limit';
import { type Repository } from 'typeorm';
import {
  gatherUse,
  MOST_SOURCE_BYTES,
  projectOfFile,
  SourceScanner,
  TOO_LARGE,
  type SourceScan,
  type SourceUse,
  type Workspace,
} from '@deep-ledger/core';
import { GitHistory, type TreeFile } from '../git/git-history.js';
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

/** Finds out what the source of a workspace's projects refers to. */
@Injectable()
export class ScanService {
  /** Those that were asked for lately, so that a commit does not read all of them from the database. */
  private readonly recent = new LRUCache<string, SourceScan>({ max: MOST_RECENT });

  constructor(
    private readonly history: GitHistory,
    private readonly workers: WorkerPool,
    @InjectRepository(SourceScanEntity) private readonly kept: Repository<SourceScanEntity>,
  ) {}

  /** What source refers to at a commit. Files whose content was scanned before are not read again. */
  async use(id: string, commit: string, workspace: Workspace): Promise<SourceUse> {
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
    // While some are scanned in worker threads, the next are read.
    const turns = pLimit(BATCHES_AT_ONCE);
    const batches: Promise<void>[] = [];
    for (let i = 0; i < open.length; i += BLOBS_AT_ONCE) {
      const batch = open.slice(i, i + BLOBS_AT_ONCE);
      batches.push(turns(() => this.scan(id, workspace, batch, scans)));
    }
    await Promise.all(batches);
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
    return (await this.history.tree(id, commit)).flatMap((file) => {
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
    const texts = await this.history.readBlobs(id, files);
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
