import { randomUUID } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import type { NestExpressApplication } from '@nestjs/platform-express';
import { getDataSourceToken } from '@nestjs/typeorm';
import { pino } from 'pino';
import supertest from 'supertest';
import type { DataSource } from 'typeorm';
import { inject } from 'vitest';
import { createApp } from '../create-app.js';
import type { Settings } from '../settings.js';
import { AccountsService } from '../team/accounts.service.js';
import type { Role } from '../team/capability.js';
import { administer, adminUrl } from './administer.js';

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
    const beginning = isEmpty ? null : await (begun ??= begin());
    const database = `test_${randomUUID().replaceAll('-', '')}`;
    await administer(
      `CREATE DATABASE ${database} ${beginning === null ? '' : `TEMPLATE ${beginning.database}`}`,
    );
    const server = await TestServer.on(database, through, more);
    if (beginning !== null) server.keeper = beginning.keeper;
    return server;
  }

  static async on(
    database: string,
    through: (databaseUrl: string) => Promise<string>,
    more: Partial<Settings>,
  ): Promise<TestServer> {
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
    await this.leave();
    await administer(`DROP DATABASE ${this.database} WITH (FORCE)`);
  }

  /** Ends all but the database. */
  async leave(): Promise<void> {
    await this.halt();
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

/** What the databases of tests begin as copies of: all tables, and a keeper who is signed in. */
interface Beginning {
  readonly database: string;
  readonly keeper: SignedIn;
}

let begun: Promise<Beginning> | null = null;

async function begin(): Promise<Beginning> {
  const database = `${inject('beginning')}_${process.pid}`;
  await administer(`CREATE DATABASE ${database}`);
  const server = await TestServer.on(database, (url) => Promise.resolve(url), {});
  const keeper = await server.signedIn('platform', 'keeper');
  await server.leave();
  return { database, keeper };
}
