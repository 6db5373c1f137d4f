import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import { LessThan, MoreThan, type Repository } from 'typeorm';
import { LOCK_FILE, lockStandOf, lockSum, type LockStand } from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { MOST_LOCKFILE_BYTES } from '../git/file-limits.js';
import { GitFiles } from '../git/git-files.js';
import { GitHistory } from '../git/git-history.js';
import type { LockCommitEntity } from '../lock/lock-commit.entity.js';
import type { Actor } from '../team/actor.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { ReportEntity } from './report.entity.js';
import { GONE_MS } from './report-age.js';
import type { NewReportDto, MachineLineDto, StandDto } from './machines.dto.js';

const DAY_MS = 86_400_000;
/** An answer this old counts for little. */
const FADES_MS = 7 * DAY_MS;
const MOST_NAMES = 20;
const MOST_BRANCHES = 50;

/** Who stands on which lockfile. */
@Injectable()
export class MachinesService {
  /** Of lockfiles by their blob's id, which never change. */
  private readonly sums = new LRUCache<string, string>({ max: 1000 });

  constructor(
    @InjectRepository(ReportEntity) private readonly reports: Repository<ReportEntity>,
    private readonly history: GitHistory,
    private readonly files: GitFiles,
    private readonly clock: Clock,
  ) {}

  /** Takes an answer in place of the one before. */
  async take({ id }: WorkspaceEntity, body: NewReportDto, actor: Actor): Promise<void> {
    const now = this.clock.now();
    await this.reports.query(
      `INSERT INTO "report" ("workspace_id", "kind", "name", "branch", "commit", "lock_sum",
         "installed_sum", "reported_by", "at", "since")
       VALUES ($1, $2, $3, $4, $5, $6, $7, $8, $9, $9)
       ON CONFLICT ("workspace_id", "kind", "name") DO UPDATE SET
         "branch" = $4, "commit" = $5, "lock_sum" = $6, "installed_sum" = $7, "reported_by" = $8,
         "at" = $9,
         "since" = CASE WHEN "report"."lock_sum" = $6
           AND "report"."installed_sum" IS NOT DISTINCT FROM $7 THEN "report"."since" ELSE $9 END`,
      [
        id,
        body.kind,
        body.name.trim(),
        body.branch ?? null,
        body.commit ?? null,
        body.lockSum,
        body.installedSum ?? null,
        actor.name,
        now,
      ],
    );
    await this.reports.delete({ workspaceId: id, at: LessThan(this.before(GONE_MS)) });
  }

  /** @param commits that changed the lockfile, oldest first */
  async lines(
    { id }: WorkspaceEntity,
    sum: string | null,
    commits: readonly LockCommitEntity[],
  ): Promise<MachineLineDto[]> {
    const found = await this.reports.find({
      where: { workspaceId: id, at: MoreThan(this.before(GONE_MS)) },
      order: { kind: 'ASC', name: 'ASC' },
    });
    const faded = this.before(FADES_MS);
    return found.map((report) => ({
      kind: report.kind,
      name: report.name,
      branch: report.branch,
      lock: toStand(lockStandOf(report.lockSum, sum, commits)),
      installed:
        report.installedSum === null
          ? null
          : toStand(lockStandOf(report.installedSum, sum, commits)),
      reportedBy: report.reportedBy,
      at: report.at.toISOString(),
      since: report.since.toISOString(),
      isFaded: report.at < faded,
    }));
  }

  /** Where the other branches stand, by their own lockfiles. */
  async branches(
    { id, branch }: WorkspaceEntity,
    sum: string | null,
    commits: readonly LockCommitEntity[],
  ): Promise<MachineLineDto[]> {
    const others = (await this.history.heads(id)).filter(({ name }) => name !== branch);
    const told = others.slice(0, MOST_BRANCHES);
    const sums = await this.lockSums(
      id,
      told.map(({ head }) => head.commit),
    );
    const old = this.before(GONE_MS);
    return told.flatMap(({ name, head: { at, author } }, i): MachineLineDto[] => {
      const own = sums[i] ?? null;
      if (own === null) return [];
      return [
        {
          kind: 'branch',
          name,
          branch: name,
          lock: toStand(lockStandOf(own, sum, commits)),
          installed: null,
          reportedBy: author,
          at,
          since: at,
          isFaded: new Date(at) < old,
        },
      ];
    });
  }

  /** The sums of the lockfiles at commits; null: there is none, or one that is too large. Two processes. */
  private async lockSums(
    id: string,
    commits: readonly string[],
  ): Promise<readonly (string | null)[]> {
    const found = await this.files.filesAt(
      id,
      commits.map((commit) => `${commit}:${LOCK_FILE}`),
    );
    const files = new Map(
      found.flatMap((file) =>
        file === null || file.bytes > MOST_LOCKFILE_BYTES || this.sums.has(file.oid)
          ? []
          : [[file.oid, { path: LOCK_FILE, ...file }]],
      ),
    );
    const texts = await this.files.readBlobs(id, [...files.values()]);
    [...files.keys()].forEach((oid, i) => this.sums.set(oid, lockSum(texts[i]!)));
    return found.map((file) => (file === null ? null : (this.sums.get(file.oid) ?? null)));
  }

  private before(ms: number): Date {
    return new Date(this.clock.now().getTime() - ms);
  }
}

/** Of the copies so many as can be shown. */
function toStand({ lacks, keeps, ...stand }: LockStand): StandDto {
  return { ...stand, lacks: lacks.slice(0, MOST_NAMES), keeps: keeps.slice(0, MOST_NAMES) };
}
