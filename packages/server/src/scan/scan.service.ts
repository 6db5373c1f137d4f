import { createHash } from 'node:crypto';
import { extname } from 'node:path';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { type Repository } from 'typeorm';
import {
  gatherUse,
  projectOfFile,
  SourceScanner,
  type SourceScan,
  type SourceUse,
  type Workspace,
} from '@deep-ledger/core';
import { GitHistory, type TreeFile } from '../git/git-history.js';
import { SourceScanEntity } from './source-scan.entity.js';
import { WorkerPool } from '../workers/worker-pool.js';

/** Larger files were made by a machine. */
const MOST_BYTES = 1 << 20;
const BLOBS_AT_ONCE = 1000;
const FILES_IN_A_TASK = 40;

const TOO_LARGE: SourceScan = {
  references: [],
  unseen: [{ line: 1, what: 'syntax', text: 'The file is larger than 1 MB and was not read' }],
};

interface SourceFile extends TreeFile {
  /** From the project's folder. */
  readonly inside: string;
  readonly key: string;
}

/** Finds out what the source of a workspace's projects refers to. */
@Injectable()
export class ScanService {
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
      if (file.bytes > MOST_BYTES) scans.set(file.path, TOO_LARGE);
      else if (found === undefined) open.push(file);
      else scans.set(file.path, found);
    }
    for (let i = 0; i < open.length; i += BLOBS_AT_ONCE)
      await this.scan(id, workspace, open.slice(i, i + BLOBS_AT_ONCE), scans);
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
    const keys = files.map(({ key }) => key);
    const rows = (await this.kept.query(
      'SELECT "key", "found" FROM "source_scan" WHERE "key" = ANY($1)',
      [keys],
    )) as { key: string; found: SourceScan }[];
    return new Map(rows.map(({ key, found }) => [key, found]));
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
    files.forEach(({ path }, i) => scans.set(path, found[i]!));
  }
}

/** PostgreSQL's JSON knows no character zero. */
function withoutNull(json: string): string {
  return json.replaceAll('\\u0000', '\\ufffd');
}
