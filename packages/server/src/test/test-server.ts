import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { getDataSourceToken } from '@nestjs/typeorm';
import { Client } from 'pg';
import { pino } from 'pino';
import supertest from 'supertest';
import type { DataSource } from 'typeorm';
import { createApp } from '../create-app.js';
import type { Settings } from '../settings.js';
import { AccountsService } from '../team/accounts.service.js';
import type { Role } from '../team/capability.js';

export const TODAY = '2025-06-01';
export const PASSWORD = 'over the second ridge';

/** What a browser that is signed in sends along. */
export interface SignedIn {
  readonly cookie: string;
  readonly csrf: string;
}

/** The whole server over a database and a data folder of its own. It can be stopped and started again. */
export class TestServer {
  private app: NestExpressApplication | null = null;
  private keeper: SignedIn;

  private constructor(
    private readonly database: string,
    readonly settings: Settings,
  ) {}

  /**
   * @param isEmpty nobody can sign in yet
   * @param through another way to the same database
   */
  static async start({
    isEmpty = false,
    through = (databaseUrl) => Promise.resolve(databaseUrl),
    ...more
  }: {
    isEmpty?: boolean;
    through?: (databaseUrl: string) => Promise<string>;
  } & Partial<Settings> = {}): Promise<TestServer> {
    const database = `test_${randomUUID().replaceAll('-', '')}`;
    await administer(`CREATE DATABASE ${database}`);
    const url = new URL(adminUrl());
    url.pathname = `/${database}`;
    const dataFolder = await mkdtemp(join(tmpdir(), 'deep-ledger-data-'));
    const server = new TestServer(database, {
      databaseUrl: await through(url.toString()),
      dataFolder,
      archivesFolder: join(dataFolder, 'archives'),
      archivesBytes: 1 << 30,
      host: '127.0.0.1',
      port: 0,
      publicUrl: 'http://127.0.0.1',
      webFolder: '/nonexistent',
      today: TODAY,
      works: true,
      copiesAtOnce: 3000,
      filesAtOnce: 500,
      demo: null,
      logLevel: 'silent',
      memoryBytes: 1 << 30,
      hostMs: 60_000,
      trustedHops: 0,
      secret: null,
      ...more,
    });
    await server.boot();
    if (!isEmpty) server.keeper = await server.signedIn('platform', 'keeper');
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

  /** Past the server. */
  query(statement: string): Promise<unknown> {
    return this.nest.get<DataSource>(getDataSourceToken()).query(statement);
  }

  /** Where it listens. */
  get url(): string {
    const { port } = this.nest.getHttpServer().address() as { port: number };
    return `http://127.0.0.1:${port}`;
  }

  /** Asks as the keeper. */
  get http() {
    return this.as(this.keeper);
  }

  /** Asks as nobody. */
  get stranger() {
    return supertest(this.nest.getHttpServer());
  }

  as({ cookie, csrf }: SignedIn) {
    const agent = supertest.agent(this.nest.getHttpServer());
    return agent.set('cookie', cookie).set('x-csrf-token', csrf);
  }

  /** Adds somebody with a password and signs them in. */
  async signedIn(name: string, role: Role): Promise<SignedIn> {
    const accounts = this.nest.get(AccountsService, { strict: false });
    const email = `${name}@brindlepeak.example`;
    await accounts.add({ name, shownName: `${name} crew`, email, role }, PASSWORD);
    const answer = await this.stranger
      .post('/api/session')
      .send({ name, password: PASSWORD })
      .expect(200);
    return {
      cookie: answer.get('set-cookie')![0]!.split(';')[0]!,
      csrf: (answer.body as { csrf: string }).csrf,
    };
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
