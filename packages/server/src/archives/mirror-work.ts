import { Inject, Injectable } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import pLimit from 'p-limit';
import { In, LessThan, type DataSource, type Repository } from 'typeorm';
import { bytes as shownBytes } from '@deep-ledger/core';
import { failureWords, InstallTrouble } from '@deep-ledger/install';
import { Clock } from '../clock.js';
import { GitService } from '../git/git.service.js';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { Problem } from '../problems/problem.js';
import { SETTINGS, type Settings } from '../settings.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { ArchiveFolder } from './archive-folder.js';
import { ArchiveSourcesOf, type ArchiveSources } from './archive-sources.js';
import { ArchiveEntity, ArchiveRoundEntity, ArchiveUseEntity } from './archive.entity.js';
import { NamedArchives, type NamedArchive } from './named-archives.js';

/** Archives that are fetched or hashed at once. */
const AT_ONCE = 8;
/** An archive that was hashed longer ago is hashed again. */
const CHECKED_FOR_MS = 7 * 24 * 60 * 60_000;
/** Rows that are written or asked for at once. */
const ROWS = 500;

/** The key of the round that hashes everything again. Other keys are sums of the lockfiles that are gone through. */
export const CHECK_ALL = 'check-all';

/** What is told of an archive that lockfiles name. */
type Told = Pick<ArchiveUseEntity, 'isGone' | 'trouble'>;

/** Keeps the archives that lockfiles name. In a worker process. */
@Injectable()
export class MirrorWork {
  private readonly taking = pLimit(1);
  /** Bytes of archives that are being fetched by this process. */
  private promised = 0;

  constructor(
    @InjectRepository(ArchiveEntity) private readonly archives: Repository<ArchiveEntity>,
    @InjectRepository(ArchiveUseEntity) private readonly uses: Repository<ArchiveUseEntity>,
    @InjectRepository(ArchiveRoundEntity) private readonly rounds: Repository<ArchiveRoundEntity>,
    @InjectDataSource() private readonly database: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly folder: ArchiveFolder,
    private readonly named: NamedArchives,
    private readonly sourcesOf: ArchiveSourcesOf,
    private readonly git: GitService,
    private readonly clock: Clock,
    jobs: JobsService,
  ) {
    jobs.register('archives', (entity, key, watch) => this.work(entity, key === CHECK_ALL, watch));
  }

  private async work(entity: WorkspaceEntity, isAll: boolean, watch: JobWatch): Promise<void> {
    await this.git.fetch(entity, watch.signal);
    const locks = await this.named.locksOf(entity);
    const { id: workspaceId } = entity;
    // A round that was begun for older lockfiles may have gone through these.
    if (!isAll && (await this.rounds.existsBy({ workspaceId, sum: locks.sum }))) return;
    const named = await this.named.in(entity, locks, watch.signal);
    const uses = await this.noteUses(entity, named);
    const unsound = await this.check(named, isAll, watch);
    await this.keepAll(entity, named, uses, watch);
    const noted = await this.archives.find({ select: { digest: true } });
    await this.folder.tidy(new Set(noted.map(({ digest }) => digest)));
    await this.rounds.upsert(
      {
        ...{ workspaceId, sum: locks.sum, at: this.clock.now() },
        ...{ branches: locks.locks.length, unsound },
      },
      ['workspaceId'],
    );
  }

  /**
   * Notes that the workspace's lockfiles name these archives from now on; archives that no lockfile names any more are
   * unused from now on.
   */
  private async noteUses(
    { id }: WorkspaceEntity,
    named: readonly NamedArchive[],
  ): Promise<ReadonlyMap<string, Told>> {
    return this.database.transaction(async (manager) => {
      const uses = manager.getRepository(ArchiveUseEntity);
      const before = new Map(
        (await uses.findBy({ workspaceId: id })).map((use) => [use.digest, use]),
      );
      const rows = named.map(({ digest, name, version, registry, branches }) => ({
        ...{ workspaceId: id, digest, name, version, registry, branches },
        isGone: before.get(digest)?.isGone ?? false,
        trouble: before.get(digest)?.trouble ?? null,
      }));
      for (const { digest } of rows) before.delete(digest);
      for (const some of inParts([...before.keys()]))
        await uses.delete({ workspaceId: id, digest: In(some) });
      for (const some of inParts(rows)) await uses.upsert(some, ['workspaceId', 'digest']);
      await manager.query(
        `UPDATE "archive" SET "unused_since" = CASE
           WHEN EXISTS (SELECT FROM "archive_use" "use" JOIN "workspace" ON "workspace"."id" = "use"."workspace_id"
             WHERE "use"."digest" = "archive"."digest" AND "closed_at" IS NULL) THEN NULL
           ELSE COALESCE("unused_since", $1) END`,
        [this.clock.now()],
      );
      return new Map(rows.map((use) => [use.digest, use]));
    });
  }

  /** Hashes again what was not hashed lately; what does not hold is thrown away. @returns how many did not */
  private async check(
    named: readonly NamedArchive[],
    isAll: boolean,
    watch: JobWatch,
  ): Promise<number> {
    const since = new Date(this.clock.now().getTime() - (isAll ? 0 : CHECKED_FOR_MS));
    const own = new Set(named.map(({ digest }) => digest));
    // The first round that comes looks after the archives that no lockfile names.
    const due = (await this.archives.findBy({ checkedAt: LessThan(since) })).filter(
      ({ digest, unusedSince }) => own.has(digest) || unusedSince !== null,
    );
    let unsound = 0;
    await this.each(due, watch, async ({ digest, integrity }) => {
      if (await this.folder.isSound(integrity)) {
        await this.archives.update({ digest }, { checkedAt: this.clock.now() });
        return;
      }
      unsound++;
      await this.archives.delete({ digest });
      await this.folder.remove(integrity);
    });
    return unsound;
  }

  private async keepAll(
    entity: WorkspaceEntity,
    named: readonly NamedArchive[],
    told: ReadonlyMap<string, Told>,
    watch: JobWatch,
  ): Promise<void> {
    const kept = new Set<string>();
    for (const some of inParts(named.map(({ digest }) => digest)))
      for (const { digest } of await this.archives.findBy({ digest: In(some) })) kept.add(digest);
    const sources = await this.sourcesOf.workspace(entity, named);
    await this.each(named, watch, async (archive) => {
      const trouble = kept.has(archive.digest)
        ? null
        : await this.keep(archive, sources).then(() => null, troubleWords);
      const { digest } = archive;
      const isGone = sources.isGone(archive);
      const before = told.get(digest)!;
      if (before.trouble === trouble && before.isGone === isGone) return;
      await this.uses.update({ workspaceId: entity.id, digest }, { trouble, isGone });
    });
  }

  /** Fetches one that is not kept. @throws InstallTrouble, RegistryError */
  private async keep(archive: NamedArchive, sources: ArchiveSources): Promise<void> {
    const { digest, name, version, integrity } = archive;
    const said = sources.releaseOf(archive)?.archive.bytes ?? 0;
    let taken = await this.take(said);
    try {
      const { address, fetch } = await sources.fetching(archive);
      const bytes = await this.folder.keep({ archive: address, integrity }, fetch);
      try {
        taken += await this.take(Math.max(0, bytes - said));
      } catch (error) {
        await this.folder.remove(integrity);
        throw error;
      }
      const now = this.clock.now();
      // Nobody may count while bytes go from those that are promised to those that are kept.
      await this.taking(async () => {
        await this.archives.upsert(
          {
            ...{ digest, name, version, integrity, bytes, keptAt: now, checkedAt: now },
            ...{ sentAt: null, unusedSince: null },
          },
          ['digest'],
        );
        this.promised -= taken;
        taken = 0;
      });
    } finally {
      this.promised -= taken;
    }
  }

  /**
   * Takes room for bytes that are being fetched: throws away what no lockfile names, what was sent longest ago first, until
   * there is some. @returns the bytes @throws InstallTrouble
   */
  private take(bytes: number): Promise<number> {
    return this.taking(async () => {
      const bound = this.settings.archivesBytes;
      while ((await this.allBytes()) + this.promised + bytes > bound) {
        const [oldest] = await this.archives
          .createQueryBuilder('archive')
          .where('archive.unused_since IS NOT NULL')
          .orderBy('COALESCE(archive.sent_at, archive.kept_at)', 'ASC')
          .limit(1)
          .getMany();
        if (oldest === undefined)
          throw new InstallTrouble(
            `There is no room: archives may take ${shownBytes(bound)} together (DEEP_LEDGER_ARCHIVES_MIB), and lockfiles name all that are kept.`,
          );
        await this.archives.delete({ digest: oldest.digest });
        await this.folder.remove(oldest.integrity);
      }
      this.promised += bytes;
      return bytes;
    });
  }

  private async allBytes(): Promise<number> {
    return (await this.archives.sum('bytes')) ?? 0;
  }

  /** One after another, some at once, until the work is stopped. */
  private async each<T>(
    all: readonly T[],
    { signal, progress }: JobWatch,
    work: (one: T) => Promise<void>,
  ): Promise<void> {
    const limit = pLimit(AT_ONCE);
    let done = 0;
    await Promise.all(
      all.map((one) =>
        limit(async () => {
          signal.throwIfAborted();
          await work(one);
          await progress(++done, all.length);
        }),
      ),
    );
  }
}

function inParts<T>(all: readonly T[]): T[][] {
  const parts: T[][] = [];
  for (let i = 0; i < all.length; i += ROWS) parts.push(all.slice(i, i + ROWS));
  return parts;
}

function troubleWords(error: unknown): string {
  return error instanceof Problem ? error.detail : failureWords(error);
}
