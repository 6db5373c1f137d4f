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

/** What somebody waits for does not wait behind what nobody does. */
export const LANES = ['work', 'waited-for'] as const;
export type Lane = (typeof LANES)[number];
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
  private started: Promise<void> | null = null;
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
    for (const lane of LANES)
      await this.boss.work<{ id: string }>(
        lane,
        { pollingIntervalSeconds: POLL_S, batchSize: 1 },
        async ([job]) => {
          if (job !== undefined) await handler(job.data.id);
        },
      );
  }

  async send(id: string, lane: Lane): Promise<void> {
    await this.ready();
    await this.boss.send(
      lane,
      { id },
      { retryLimit: RETRIES, retryDelay: 1, retryBackoff: true, expireInSeconds: EXPIRES_S },
    );
  }

  async onModuleDestroy(): Promise<void> {
    if (this.started !== null) await this.boss.stop({ graceful: true, timeout: STOP_MS });
  }

  private async start(): Promise<void> {
    await this.boss.start();
    // One after another: the queue's tables lock each other out.
    for (const lane of LANES) await this.boss.createQueue(lane);
  }

  private ready(): Promise<void> {
    this.started ??= this.start();
    return this.started;
  }
}
