import { existsSync } from 'node:fs';
import { mkdir, readFile, writeFile } from 'node:fs/promises';
import { createHash, randomBytes } from 'node:crypto';
import { join } from 'node:path';
import { execa } from 'execa';
import getPort from 'get-port';
import { startPart, type Part } from './part.js';
import { PostgresCluster } from './postgres-cluster.js';
import { Trouble } from './say.js';

export interface StackWorld {
  readonly documents: string;
  readonly repository: string;
  /** A repository that is to be brought in, with the folder that its own registry serves. */
  readonly ferries?: { readonly repository: string; readonly house: string };
}

/** The house registry of the demo wants it; known to everybody who reads the README. */
export const HOUSE_TOKEN = 'high-water';

export interface StackOptions {
  /** The checkout. */
  readonly root: string;
  /** Folder for all state: database, clones, the demo. */
  readonly folder: string;
  /** Folder of what the parts log; below that of all state when absent. */
  readonly logFolder?: string;
  /** The web application's port: null takes the usual one, or a free one where that is taken. */
  readonly port: number | null;
  readonly isDurable: boolean;
  /** What Node.js is told when it runs server and worker; nothing when absent. */
  readonly nodeOptions?: readonly string[];
  /** What is served in place of the demo: a folder of registry documents, and a repository. */
  readonly world?: StackWorld;
  /** Folder of what is served as the web application; the built one when absent. */
  readonly webFolder?: string;
  /** Nobody and no workspace is there at first. */
  readonly isEmpty?: boolean;
  /** YYYY-MM-DD, or null for the clock's day. */
  readonly today: string | null;
  readonly tell: (line: string) => void;
  /** Breaks the start off; what was started by then is stopped. */
  readonly signal?: AbortSignal;
}

export interface Stack {
  readonly url: string;
  readonly registryUrl: string;
  readonly registryPid: number;
  readonly serverPid: number;
  /** The repository that is to be brought in, with its own registry; undefined: there is none. */
  readonly ferries: { readonly repository: string; readonly houseUrl: string } | undefined;
  readonly databaseUrl: string;
  readonly repository: string;
  readonly pids: readonly number[];
  /** Resolves with the name of the first part that ends by itself. */
  readonly lost: Promise<string>;
  stop(): Promise<void>;
}

const USUAL_PORTS = { web: 4600, registry: 4601, database: 4602, house: 4603 };

/** Starts database, registry stand-in and server with the demo workspace loaded. Stops what it started if one part fails. */
export async function startStack(options: StackOptions): Promise<Stack> {
  const { root, folder, nodeOptions = [], tell } = options;
  const logs = logFolderOf(options);
  for (const place of [logs, join(folder, 'data'), join(folder, 'data-worker')])
    await mkdir(place, { recursive: true, mode: 0o700 });
  const secret = await secretIn(folder);
  const undo: (() => Promise<void>)[] = [];
  const stop = async (): Promise<void> => {
    for (let step = undo.pop(); step !== undefined; step = undo.pop()) await step();
  };
  try {
    const cluster = await PostgresCluster.at({ folder, isDurable: options.isDurable });
    const databasePort = await getPort({ port: USUAL_PORTS.database, host: '127.0.0.1' });
    tell(`database   PostgreSQL on 127.0.0.1:${databasePort}`);
    undo.push(() => cluster.stop());
    await cluster.start(databasePort);
    const databaseUrl = cluster.url(databasePort);

    const world = options.world ?? (await demoWorld(root, join(folder, 'demo'), tell));

    const registryPort = await getPort({
      port: USUAL_PORTS.registry,
      host: '127.0.0.1',
      exclude: [databasePort],
    });
    const registryUrl = `http://127.0.0.1:${registryPort}`;
    tell(`registry   ${registryUrl}`);
    const registry = await startPart(
      'registry',
      [
        join(root, 'packages/registry/dist/main.js'),
        '--documents',
        world.documents,
        '--port',
        String(registryPort),
      ],
      {},
      join(logs, 'registry.log'),
      `${registryUrl}/health`,
      options.signal,
    );
    undo.push(() => registry.stop());

    const { ferries } = world;
    const house = ferries === undefined ? null : await startHouse(ferries.house, options);
    if (house !== null) undo.push(() => house.part.stop());

    const port = await webPort(options.port, [databasePort, registryPort]);
    const url = `http://127.0.0.1:${port}`;
    tell(`server     migrations, then ${url}`);
    const server = await startPart(
      'server',
      [...nodeOptions, join(root, 'packages/server/dist/main.js')],
      {
        NODE_ENV: 'production',
        DATABASE_URL: databaseUrl,
        DEEP_LEDGER_DATA: join(folder, 'data'),
        DEEP_LEDGER_ARCHIVES: join(folder, 'archives'),
        DEEP_LEDGER_SECRET: secret,
        PORT: String(port),
        HOST: '127.0.0.1',
        DEEP_LEDGER_WORKS: 'no',
        ...(options.webFolder === undefined ? {} : { DEEP_LEDGER_WEB: options.webFolder }),
        ...(options.isEmpty === true
          ? {}
          : {
              DEEP_LEDGER_DEMO_REPOSITORY: world.repository,
              DEEP_LEDGER_DEMO_REGISTRY: registryUrl,
              ...(ferries === undefined
                ? {}
                : { DEEP_LEDGER_DEMO_TO_BRING_IN: ferries.repository }),
            }),
        ...(options.today === null ? {} : { DEEP_LEDGER_TODAY: options.today }),
      },
      join(logs, 'server.log'),
      `${url}/api/health`,
      options.signal,
    );
    undo.push(() => server.stop());

    tell('worker     takes long work from the queue');
    const worker = await startPart(
      'worker',
      [...nodeOptions, join(root, 'packages/server/dist/worker-main.js')],
      {
        NODE_ENV: 'production',
        DATABASE_URL: databaseUrl,
        DEEP_LEDGER_DATA: join(folder, 'data-worker'),
        DEEP_LEDGER_ARCHIVES: join(folder, 'archives'),
        DEEP_LEDGER_SECRET: secret,
        ...(options.today === null ? {} : { DEEP_LEDGER_TODAY: options.today }),
      },
      join(logs, 'worker.log'),
      null,
      options.signal,
    );
    undo.push(() => worker.stop());

    const { repository } = world;
    const parts = [registry, server, worker, ...(house === null ? [] : [house.part])];
    return {
      url,
      registryUrl,
      registryPid: registry.pid,
      serverPid: server.pid,
      ferries:
        house === null ? undefined : { repository: ferries!.repository, houseUrl: house.url },
      databaseUrl,
      repository,
      pids: parts.map(({ pid }) => pid),
      lost: firstLost(parts),
      stop,
    };
  } catch (error) {
    await stop();
    throw error;
  }
}

function logFolderOf({ folder, logFolder = join(folder, 'logs') }: StackOptions): string {
  return logFolder;
}

/** A second registry, which speaks a JSON of its own and wants a token. */
async function startHouse(
  documents: string,
  options: StackOptions,
): Promise<{ readonly part: Part; readonly url: string }> {
  const { root, tell, signal } = options;
  const port = await getPort({ port: USUAL_PORTS.house, host: '127.0.0.1' });
  const url = `http://127.0.0.1:${port}`;
  tell(`registry   ${url}, of Wendholm Ferries, with a token`);
  const part = await startPart(
    'house registry',
    [
      join(root, 'packages/registry/dist/main.js'),
      '--plain',
      documents,
      '--token',
      HOUSE_TOKEN,
      '--port',
      String(port),
    ],
    {},
    join(logFolderOf(options), 'house-registry.log'),
    `${url}/health`,
    signal,
  );
  return { part, url };
}

async function webPort(wanted: number | null, exclude: readonly number[]): Promise<number> {
  if (wanted === null) return getPort({ port: USUAL_PORTS.web, host: '127.0.0.1', exclude });
  const port = await getPort({ port: wanted, host: '127.0.0.1', exclude });
  if (port !== wanted)
    throw new Trouble(
      `Port ${wanted} is taken. Name another with --port, or leave it out to have a free one chosen.`,
    );
  return port;
}

async function demoWorld(
  root: string,
  demo: string,
  tell: (line: string) => void,
): Promise<StackWorld> {
  if (await buildDemo(root, demo)) tell('demo       releases and git repository built');
  return {
    documents: join(demo, 'registry'),
    repository: join(demo, 'brindlepeak.git'),
    ferries: { repository: join(demo, 'wendholm.git'), house: join(demo, 'house') },
  };
}

/** Builds the demo where its sources have changed since, or it is not there. */
async function buildDemo(root: string, target: string): Promise<boolean> {
  const stamp = join(target, 'built-from');
  const { stdout } = await execa(
    'find',
    [
      'demo/repository',
      'demo/wendholm',
      'demo/dist',
      'packages/core/dist',
      'packages/registry/dist',
      '-type',
      'f',
      '-not',
      '-name',
      '*.map',
      '-not',
      '-name',
      '*.tsbuildinfo',
      '-exec',
      'sha256sum',
      '{}',
      '+',
    ],
    { cwd: root },
  );
  const sources = createHash('sha256').update(stdout.split('\n').sort().join('\n')).digest('hex');
  if (existsSync(stamp) && (await readFile(stamp, 'utf8')) === sources) return false;
  await execa(process.execPath, [join(root, 'demo/dist/build.js'), '--out', target]);
  await writeFile(stamp, sources);
  return true;
}

function firstLost(parts: readonly Part[]): Promise<string> {
  return Promise.race(parts.map(async ({ name, ended }) => ended.then(() => name)));
}

/** What server and worker make the key for credentials from; made once, for its owner's eyes alone. */
async function secretIn(folder: string): Promise<string> {
  const file = join(folder, 'secret');
  const made = randomBytes(32).toString('base64url');
  await writeFile(file, made, { flag: 'wx', mode: 0o600 }).catch((error: unknown) => {
    if ((error as NodeJS.ErrnoException).code !== 'EEXIST') throw error;
  });
  return readFile(file, 'utf8');
}
