import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { Client } from 'pg';
import { pino } from 'pino';
import supertest from 'supertest';
import { createApp } from '../create-app.js';
import type { Settings } from '../settings.js';

export const TODAY = '2025-06-01';

/** The whole server over a database and a data folder of its own. It can be stopped and started again. */
export class TestServer {
  private app: NestExpressApplication | null = null;

  private constructor(
    private readonly database: string,
    readonly settings: Settings,
  ) {}

  static async start(): Promise<TestServer> {
    const database = `test_${randomUUID().replaceAll('-', '')}`;
    await administer(`CREATE DATABASE ${database}`);
    const url = new URL(adminUrl());
    url.pathname = `/${database}`;
    const server = new TestServer(database, {
      databaseUrl: url.toString(),
      dataFolder: await mkdtemp(join(tmpdir(), 'deep-ledger-data-')),
      host: '127.0.0.1',
      port: 0,
      webFolder: '/nonexistent',
      today: TODAY,
      logLevel: 'silent',
    });
    await server.boot();
    return server;
  }

  async boot(): Promise<void> {
    this.app = await createApp(this.settings, pino({ level: 'silent' }));
    await this.app.listen(0, '127.0.0.1');
  }

  /** Ends the program, but leaves database and data folder, as a crash would. */
  async halt(): Promise<void> {
    await this.app?.close();
    this.app = null;
  }

  async stop(): Promise<void> {
    await this.halt();
    await administer(`DROP DATABASE ${this.database} WITH (FORCE)`);
    await rm(this.settings.dataFolder, { recursive: true, force: true });
  }

  get nest(): NestExpressApplication {
    if (this.app === null) throw new Error('the server is not running');
    return this.app;
  }

  get http() {
    return supertest(this.nest.getHttpServer());
  }
}

function adminUrl(): string {
  const url = process.env['DATABASE_URL'];
  if (url === undefined) throw new Error('DATABASE_URL is not set; run bin/test --only server');
  return url;
}

async function administer(statement: string): Promise<void> {
  const client = new Client({ connectionString: adminUrl() });
  await client.connect();
  try {
    await client.query(statement);
  } finally {
    await client.end();
  }
}
