import { randomUUID } from 'node:crypto';
import {
  Inject,
  Injectable,
  type OnApplicationBootstrap,
  type OnModuleDestroy,
} from '@nestjs/common';
import { InjectDataSource } from '@nestjs/typeorm';
import pRetry from 'p-retry';
import { Client } from 'pg';
import type { Logger } from 'pino';
import { endWith, filter, ignoreElements, Subject, type Observable } from 'rxjs';
import type { DataSource } from 'typeorm';
import type { JobDto } from '../jobs/jobs.dto.js';
import { LOGGER } from '../logging/nest-logger.js';
import { SETTINGS, type Settings } from '../settings.js';

const CHANNEL = 'deep_ledger';

/** Something happened in a workspace that pages may show. */
export interface LiveEvent {
  readonly workspaceId: string;
  /** What it touches: the part of the address behind the workspace, such as `drafts`. */
  readonly topic: string;
  /** Of a job: how it stands now. */
  readonly job?: JobDto;
  /** Of the process that tells it. */
  readonly origin: string;
}

/** Tells all servers on one database what happened at any of them. */
@Injectable()
export class LiveService implements OnApplicationBootstrap, OnModuleDestroy {
  private readonly events = new Subject<LiveEvent>();
  private client: Client | null = null;
  private isOver = false;
  private readonly origin = randomUUID();

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    @Inject(LOGGER) private readonly log: Logger,
    @InjectDataSource() private readonly database: DataSource,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    await this.listen();
  }

  async onModuleDestroy(): Promise<void> {
    this.isOver = true;
    this.events.complete();
    await this.client?.end().catch(() => {});
  }

  /** Nothing is lost if it fails: pages ask again by themselves after a while. */
  async tell(workspaceId: string, topic: string, job?: JobDto): Promise<void> {
    const origin = this.origin;
    const event: LiveEvent = {
      workspaceId,
      topic,
      origin,
      ...(job === undefined ? {} : { job: brief(job) }),
    };
    await this.database
      .query('SELECT pg_notify($1, $2)', [CHANNEL, JSON.stringify(event)])
      .catch((error: unknown) => this.log.warn({ err: error }, 'an event could not be told'));
  }

  /** Of all workspaces, from other servers. */
  get fromElsewhere(): Observable<LiveEvent> {
    return this.events.pipe(filter(({ origin }) => origin !== this.origin));
  }

  /** Emits once the server ends. */
  get over(): Observable<null> {
    return this.events.pipe(ignoreElements(), endWith(null));
  }

  of(workspaceId: string): Observable<LiveEvent> {
    return this.events.pipe(filter((event) => event.workspaceId === workspaceId));
  }

  private async listen(): Promise<void> {
    await pRetry(
      async () => {
        if (this.isOver) return;
        const client = new Client({ connectionString: this.settings.databaseUrl });
        let isLost = false;
        const lost = (): void => {
          if (isLost || this.isOver) return;
          isLost = true;
          this.log.warn('the connection for live events is lost; connecting again');
          void this.listen();
        };
        client.on('notification', ({ payload }) => {
          if (payload !== undefined) this.events.next(JSON.parse(payload) as LiveEvent);
        });
        // From the start: an error that nobody listens for ends the program.
        client.on('error', () => {});
        await client.connect();
        client.on('end', lost);
        await client.query(`LISTEN ${CHANNEL}`);
        this.client = client;
      },
      { retries: Infinity, minTimeout: 200, maxTimeout: 5000 },
    );
  }
}

/** A notice of PostgreSQL has 8,000 bytes; the whole trouble is read with the job. */
const MOST_TROUBLE = 500;

function brief(job: JobDto): JobDto {
  return { ...job, trouble: job.trouble?.slice(0, MOST_TROUBLE) ?? null };
}
