import {
  Inject,
  Injectable,
  type OnApplicationBootstrap,
  type OnModuleDestroy,
} from '@nestjs/common';
import PgBoss from 'pg-boss';
import type { Logger } from 'pino';
import { LOGGER } from '../logging/nest-logger.js';
import { SETTINGS, type Settings } from '../settings.js';

const NAME = 'work';
const SCHEMA = 'queue';
/** A worker that has not answered for so long is taken for dead, and another takes over. */
const EXPIRES_S = 15 * 60;
const RETRIES = 3;
const POLL_S = 0.5;
const STOP_MS = 2000;

/** The queue in the database from which worker processes take jobs. */
@Injectable()
export class Queue implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly boss: PgBoss;
  private started: Promise<unknown> | null = null;
  private handler: ((id: string) => Promise<void>) | null = null;

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(LOGGER) log: Logger,
  ) {
    this.boss = new PgBoss({
      connectionString: settings.databaseUrl,
      schema: SCHEMA,
      max: 3,
      supervise: true,
    });
    this.boss.on('error', (error) => log.warn({ err: error }, 'the queue does not answer'));
  }

  /** What is done with a job in a process that works. Set before the application starts. */
  handle(handler: (id: string) => Promise<void>): void {
    this.handler = handler;
  }

  async onApplicationBootstrap(): Promise<void> {
    await this.ready();
    const { handler } = this;
    if (!this.settings.works || handler === null) return;
    await this.boss.work<{ id: string }>(
      NAME,
      { pollingIntervalSeconds: POLL_S, batchSize: 1 },
      async ([job]) => {
        if (job !== undefined) await handler(job.data.id);
      },
    );
  }

  async send(id: string): Promise<void> {
    await this.ready();
    await this.boss.send(
      NAME,
      { id },
      { retryLimit: RETRIES, retryDelay: 1, retryBackoff: true, expireInSeconds: EXPIRES_S },
    );
  }

  async onModuleDestroy(): Promise<void> {
    if (this.started !== null) await this.boss.stop({ graceful: true, timeout: STOP_MS });
  }

  private ready(): Promise<unknown> {
    this.started ??= this.boss.start().then(() => this.boss.createQueue(NAME));
    return this.started;
  }
}
