import { setTimeout } from 'node:timers/promises';
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

/** Work that somebody waits for does not wait behind other work. */
export const LANES = ['work', 'waited-for'] as const;
export type Lane = (typeof LANES)[number];
const SCHEMA = 'queue';
/** A worker that has not answered for so long is taken for dead, and another takes over. */
const EXPIRES_S = 15 * 60;
const RETRIES = 3;
/** This often it is looked for jobs. */
const POLL_MS = 500;
const STOP_MS = 2000;

/** The queue in the database from which worker processes take jobs. */
@Injectable()
export class Queue implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly boss: PgBoss;
  private readonly over = new AbortController();
  private started: Promise<void> | null = null;
  private handler: ((id: string) => Promise<void>) | null = null;

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(LOGGER) private readonly log: Logger,
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
    for (const lane of LANES) void this.serve(lane, handler);
  }

  /**
   * Takes jobs from a lane one after another, for as long as the process goes on. Written here, since the library's own
   * loop leaves a failure that nobody waits for where the database goes away while a job ends.
   */
  private async serve(lane: Lane, handler: (id: string) => Promise<void>): Promise<void> {
    const { signal } = this.over;
    while (!signal.aborted) {
      const isBusy = await this.takeOne(lane, handler).catch((error: unknown) => {
        this.log.warn({ err: error, lane }, 'no job could be taken from the queue');
        return false;
      });
      if (!isBusy) await setTimeout(POLL_MS, undefined, { signal }).catch(() => undefined);
    }
  }

  /** @returns whether there was one */
  private async takeOne(lane: Lane, handler: (id: string) => Promise<void>): Promise<boolean> {
    const [job] = (await this.boss.fetch<{ id: string }>(lane)) ?? [];
    if (job === undefined) return false;
    await handler(job.data.id);
    await this.boss.complete(lane, job.id);
    return true;
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
    this.over.abort();
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
