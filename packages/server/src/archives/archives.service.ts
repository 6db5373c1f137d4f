import { Inject, Injectable } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import type { DataSource, Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { JobsService } from '../jobs/jobs.service.js';
import { Problem } from '../problems/problem.js';
import { SETTINGS, type Settings } from '../settings.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { ArchiveFolder } from './archive-folder.js';
import { ArchiveEntity, ArchiveRoundEntity, ArchiveUseEntity } from './archive.entity.js';
import type { ArchiveLineDto, ArchivesDto, ArchivesQuery, ClearedDto } from './archives.dto.js';
import { CHECK_ALL } from './mirror-work.js';
import { NamedArchives } from './named-archives.js';

/** Lines of a page. */
const LINES = 100;

/** Which lines a page shows. */
const CONDITIONS = {
  all: 'TRUE',
  missing: '"bytes" IS NULL',
  gone: '"is_gone"',
  unused: '"unused_since" IS NOT NULL',
} as const;

/**
 * The archives that the workspace's lockfiles name, kept or not, and the archives that are kept though no lockfile of
 * any workspace names them. $1: the workspace; $2: whether to include the latter, which may have been another
 * workspace's.
 */
const LINES_OF = `
  SELECT COALESCE("archive"."name", "own"."name") AS "name", COALESCE("archive"."version", "own"."version") AS "version",
    COALESCE("archive"."digest", "own"."digest") AS "digest", "archive"."bytes", "kept_at", "checked_at", "sent_at",
    "unused_since", COALESCE("own"."branches", '{}') AS "branches", COALESCE("own"."is_gone", FALSE) AS "is_gone",
    "own"."trouble",
    (SELECT count(*)::int FROM "archive_use" "other" JOIN "workspace" ON "workspace"."id" = "other"."workspace_id"
      WHERE "other"."workspace_id" <> $1 AND "closed_at" IS NULL AND "other"."digest" =
        COALESCE("archive"."digest", "own"."digest")) AS "elsewhere"
  FROM "archive" FULL JOIN (SELECT * FROM "archive_use" WHERE "workspace_id" = $1) "own"
    ON "own"."digest" = "archive"."digest"
  WHERE "own"."digest" IS NOT NULL OR ($2 AND "unused_since" IS NOT NULL)`;

interface Line {
  readonly name: string;
  readonly version: string;
  readonly digest: string;
  readonly bytes: string | null;
  readonly kept_at: Date | null;
  readonly checked_at: Date | null;
  readonly sent_at: Date | null;
  readonly unused_since: Date | null;
  readonly branches: string[];
  readonly is_gone: boolean;
  readonly trouble: string | null;
  readonly elsewhere: number;
}

interface Figures {
  readonly named: number;
  readonly missing: number;
  readonly gone: number;
  readonly unused: number;
  readonly unused_bytes: string;
  readonly checked_at: Date | null;
}

/** What the mirror keeps, and what it is asked to do. */
@Injectable()
export class ArchivesService {
  constructor(
    @InjectRepository(ArchiveEntity) private readonly archives: Repository<ArchiveEntity>,
    @InjectRepository(ArchiveUseEntity) private readonly uses: Repository<ArchiveUseEntity>,
    @InjectRepository(ArchiveRoundEntity) private readonly rounds: Repository<ArchiveRoundEntity>,
    @InjectDataSource() private readonly database: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly folder: ArchiveFolder,
    private readonly named: NamedArchives,
    private readonly jobs: JobsService,
    private readonly clock: Clock,
  ) {}

  /** Begins a round where lockfiles have changed since the last one. @returns whether none is needed */
  async beginIfChanged(entity: WorkspaceEntity): Promise<boolean> {
    if (!this.isOn) return true;
    const asked = this.clock.now();
    const [{ sum }, round] = await Promise.all([
      this.named.locksOf(entity),
      this.rounds.findOneBy({ workspaceId: entity.id }),
    ]);
    if (round?.sum === sum) return true;
    await this.jobs.begin(entity, 'archives', sum, asked);
    return false;
  }

  /** Goes through everything once more: hashes it, and tries again what could not be had. */
  async checkAll(entity: WorkspaceEntity): Promise<void> {
    this.demandOn();
    await this.jobs.begin(entity, 'archives', CHECK_ALL);
  }

  /** @param isPerson of the whole team; a token is for one workspace */
  async page(
    entity: WorkspaceEntity,
    { show, search, skip }: ArchivesQuery,
    isPerson: boolean,
  ): Promise<ArchivesDto> {
    const isUpToDate =
      (await this.beginIfChanged(entity)) && !(await this.jobs.isUnderWay(entity, 'archives'));
    const [figures] = (await this.database.query(
      `SELECT count(*) FILTER (WHERE cardinality("branches") > 0)::int AS "named",
        count(*) FILTER (WHERE "bytes" IS NULL)::int AS "missing", count(*) FILTER (WHERE "is_gone")::int AS "gone",
        count(*) FILTER (WHERE "unused_since" IS NOT NULL)::int AS "unused",
        COALESCE(sum("bytes") FILTER (WHERE "unused_since" IS NOT NULL), 0) AS "unused_bytes",
        min("checked_at") AS "checked_at" FROM (${LINES_OF}) "line"`,
      [entity.id, isPerson],
    )) as [Figures];
    const lines = (await this.database.query(
      `SELECT *, count(*) OVER ()::int AS "matching" FROM (${LINES_OF}) "line"
        WHERE ${CONDITIONS[show]} AND strpos(lower("name"), lower($3)) > 0
        ORDER BY "bytes" IS NOT NULL, NOT "is_gone", "name" COLLATE "C", "version" COLLATE "C"
        LIMIT ${LINES} OFFSET $4`,
      [entity.id, isPerson, search, skip],
    )) as readonly (Line & { readonly matching: number })[];
    const round = await this.rounds.findOneBy({ workspaceId: entity.id });
    return {
      isOn: this.isOn,
      isUpToDate,
      branches: round?.branches ?? 0,
      lookedAt: round?.at.toISOString() ?? null,
      unsound: round?.unsound ?? 0,
      named: figures.named,
      missing: figures.missing,
      gone: figures.gone,
      unused: figures.unused,
      unusedBytes: Number(figures.unused_bytes),
      archives: await this.archives.count(),
      bytes: (await this.archives.sum('bytes')) ?? 0,
      mostBytes: this.settings.archivesBytes,
      checkedSince: figures.checked_at?.toISOString() ?? null,
      matching: lines[0]?.matching ?? 0,
      lines: lines.map(toLine),
    };
  }

  /**
   * The file of an archive that lockfiles of a workspace name, hashed a moment ago.
   * @throws Problem ARCHIVE_UNKNOWN
   */
  async file({ id }: WorkspaceEntity, digest: string): Promise<string> {
    const isNamed = await this.uses.existsBy({ workspaceId: id, digest });
    const archive = isNamed ? await this.archives.findOneBy({ digest }) : null;
    if (archive === null)
      throw unknown('No lockfile of this workspace names it, or it is not kept.');
    const { integrity } = archive;
    if (!(await this.folder.isSound(integrity))) {
      await this.archives.delete({ digest });
      await this.folder.remove(integrity);
      throw unknown('What was kept of it was not as it should be and is thrown away.');
    }
    await this.archives.update({ digest }, { sentAt: this.clock.now() });
    return this.folder.file(integrity);
  }

  /** Throws away what no lockfile has named for so many days. */
  async clear(days: number): Promise<ClearedDto> {
    const before = new Date(this.clock.now().getTime() - days * 24 * 60 * 60_000);
    const gone = await this.archives
      .createQueryBuilder()
      .delete()
      .where('unused_since <= :before', { before })
      .returning(['integrity', 'bytes'])
      .execute();
    const rows = gone.raw as readonly { integrity: string; bytes: string }[];
    for (const { integrity } of rows) await this.folder.remove(integrity);
    return {
      archives: rows.length,
      bytes: rows.reduce((sum, { bytes }) => sum + Number(bytes), 0),
    };
  }

  private get isOn(): boolean {
    return this.settings.archivesBytes > 0;
  }

  private demandOn(): void {
    if (this.isOn) return;
    throw new Problem(
      'MIRROR_OFF',
      409,
      'The mirror is off',
      'This server keeps no archives: DEEP_LEDGER_ARCHIVES_MIB is 0.',
    );
  }
}

function toLine(line: Line): ArchiveLineDto {
  const { name, version, digest, bytes, branches, trouble, elsewhere } = line;
  return {
    ...{ name, version, digest, branches, trouble, elsewhere },
    bytes: bytes === null ? null : Number(bytes),
    keptAt: line.kept_at?.toISOString() ?? null,
    checkedAt: line.checked_at?.toISOString() ?? null,
    sentAt: line.sent_at?.toISOString() ?? null,
    unusedSince: line.unused_since?.toISOString() ?? null,
    isGone: line.is_gone,
  };
}

function unknown(detail: string): Problem {
  return new Problem('ARCHIVE_UNKNOWN', 404, 'No such archive', detail);
}
