import { homedir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';

/** What the server is told by its surroundings. */
export interface Settings {
  readonly databaseUrl: string;
  /** Folder for bare clones. */
  readonly dataFolder: string;
  /** Folder of the archives that the mirror keeps. Servers and workers on one database share it. */
  readonly archivesFolder: string;
  /** The bytes that they may take together; 0: none are kept. */
  readonly archivesBytes: number;
  readonly host: string;
  readonly port: number;
  /** How people reach the server, for cookies and links. */
  readonly publicUrl: string;
  /** Folder of the built web application. */
  readonly webFolder: string;
  /** The day that counts as today, YYYY-MM-DD; null: the clock's. For tests and demonstrations. */
  readonly today: string | null;
  /** Does this process take long work from the queue? Where worker processes do, a server need not. */
  readonly works: boolean;
  /** Worker processes answer questions about a workspace with more copies than this. */
  readonly copiesAtOnce: number;
  /** More source files than this, if they were never scanned, are scanned by a worker process. */
  readonly filesAtOnce: number;
  /** A demonstration to open and to fill with people. */
  readonly demo: {
    readonly address: string;
    readonly registry: string;
    /** A repository that is opened to be brought in; null: none. */
    readonly toBringIn: string | null;
  } | null;
  readonly logLevel: string;
  /** About so much memory workspaces that were read may take together. */
  readonly memoryBytes: number;
  /** How long a repository elsewhere may take to hand over new commits, or to take one. */
  readonly hostMs: number;
  /** How many proxies stand before the server, each of which says whom it speaks for. */
  readonly trustedHops: number;
  /**
   * The text from which the key for kept credentials is made; null: a key in the data folder. Servers on one database
   * share it.
   */
  readonly secret: string | null;
}

export const SETTINGS = Symbol('settings');

const MEBIBYTE = 1 << 20;

/** @throws Error naming the variable that is missing or wrong */
export function settingsFrom(env: Readonly<Record<string, string | undefined>>): Settings {
  const databaseUrl = env['DATABASE_URL'];
  if (databaseUrl === undefined) throw new Error('DATABASE_URL is not set; bin/start sets it');
  const port = Number(env['PORT'] ?? '4600');
  if (!Number.isInteger(port) || port < 0 || port > 65535)
    throw new Error(`PORT is no port: ${env['PORT']}`);
  const today = env['DEEP_LEDGER_TODAY'] ?? null;
  if (today !== null && !/^\d{4}-\d{2}-\d{2}$/.test(today))
    throw new Error(`DEEP_LEDGER_TODAY is no day: ${today}`);
  const host = env['HOST'] ?? '127.0.0.1';
  const publicUrl = env['DEEP_LEDGER_URL'] ?? `http://${host}:${port}`;
  if (!/^https?:$/.test(URL.canParse(publicUrl) ? new URL(publicUrl).protocol : ''))
    throw new Error(`DEEP_LEDGER_URL is no http address: ${publicUrl}`);
  const dataFolder = env['DEEP_LEDGER_DATA'] ?? join(homedir(), '.deep-ledger');
  return {
    databaseUrl,
    dataFolder,
    archivesFolder: env['DEEP_LEDGER_ARCHIVES'] ?? join(dataFolder, 'archives'),
    archivesBytes: MEBIBYTE * countFrom(env, 'DEEP_LEDGER_ARCHIVES_MIB', 20_480),
    host,
    port,
    publicUrl,
    webFolder: env['DEEP_LEDGER_WEB'] ?? fileURLToPath(new URL('../../web/dist', import.meta.url)),
    today,
    works: env['DEEP_LEDGER_WORKS'] !== 'no',
    copiesAtOnce: countFrom(env, 'DEEP_LEDGER_COPIES_AT_ONCE', 3000),
    filesAtOnce: countFrom(env, 'DEEP_LEDGER_FILES_AT_ONCE', 500),
    demo: demoFrom(env),
    logLevel: env['LOG_LEVEL'] ?? 'info',
    memoryBytes: MEBIBYTE * Math.max(1, countFrom(env, 'DEEP_LEDGER_MEMORY_MIB', 1024)),
    hostMs: 1000 * countFrom(env, 'DEEP_LEDGER_HOST_SECONDS', 60),
    trustedHops: countFrom(env, 'DEEP_LEDGER_TRUSTED_HOPS', 0),
    secret: env['DEEP_LEDGER_SECRET'] ?? null,
  };
}

function countFrom(
  env: Readonly<Record<string, string | undefined>>,
  name: string,
  usual: number,
): number {
  const count = Number(env[name] ?? usual);
  if (!Number.isInteger(count) || count < 0) throw new Error(`${name} is no count: ${env[name]}`);
  return count;
}

function demoFrom(env: Readonly<Record<string, string | undefined>>): Settings['demo'] {
  const address = env['DEEP_LEDGER_DEMO_REPOSITORY'];
  const registry = env['DEEP_LEDGER_DEMO_REGISTRY'];
  if (address === undefined && registry === undefined) return null;
  if (address === undefined || registry === undefined)
    throw new Error('DEEP_LEDGER_DEMO_REPOSITORY and DEEP_LEDGER_DEMO_REGISTRY go together');
  return { address, registry, toBringIn: env['DEEP_LEDGER_DEMO_TO_BRING_IN'] ?? null };
}
