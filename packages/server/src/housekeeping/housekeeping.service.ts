import { readdir, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { setTimeout } from 'node:timers/promises';
import {
  Inject,
  Injectable,
  type OnApplicationBootstrap,
  type OnModuleDestroy,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Logger } from 'pino';
import type { DataSource } from 'typeorm';
import { Exclusive, LockTaken } from '../database/exclusive.js';
import { LOGGER } from '../logging/nest-logger.js';
import { SETTINGS, type Settings } from '../settings.js';
import { RULES } from './rules.js';

const EVERY_MS = 60 * 60_000;

/** Throws away what nobody needs any more, by the rules that stand in `rules.ts`. */
@Injectable()
export class Housekeeping implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly over = new AbortController();

  constructor(
    @InjectDataSource() private readonly database: DataSource,
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(LOGGER) private readonly log: Logger,
    private readonly exclusive: Exclusive,
  ) {}

  onApplicationBootstrap(): void {
    void this.again();
  }

  onModuleDestroy(): void {
    this.over.abort();
  }

  /** Does all of it once, except for the part that another process is doing at this moment. */
  async tidy(): Promise<void> {
    await this.tidyClones();
    await this.exclusive
      .run('housekeeping', () => this.tidyDatabase(), 0)
      .catch((error: unknown) => {
        if (!(error instanceof LockTaken)) throw error;
      });
  }

  private async again(): Promise<void> {
    const { signal } = this.over;
    const rest = () => setTimeout(EVERY_MS, undefined, { signal }).catch(() => undefined);
    for (await rest(); !signal.aborted; await rest())
      await this.tidy().catch((error: unknown) => {
        this.log.warn({ err: error }, 'housekeeping has to wait');
      });
  }

  private async tidyDatabase(): Promise<void> {
    for (const { what, statement } of RULES) {
      const [, gone] = (await this.database.query(statement)) as [object[], number];
      if (gone > 0) this.log.info({ what, gone }, 'thrown away');
    }
  }

  /** Clones of workspaces that are closed or gone. Each process has a folder of its own. */
  private async tidyClones(): Promise<void> {
    const folder = join(this.settings.dataFolder, 'git');
    const names = await readdir(folder).catch(() => []);
    if (names.length === 0) return;
    const open = (await this.database.query(
      'SELECT "id" FROM "workspace" WHERE "closed_at" IS NULL',
    )) as readonly { id: string }[];
    const kept = new Set(open.map(({ id }) => `${id}.git`));
    for (const name of names)
      if (!kept.has(name)) await rm(join(folder, name), { recursive: true, force: true });
  }
}
