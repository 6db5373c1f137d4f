import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { execa } from 'execa';
import getPort from 'get-port';
import { startPart, type Part } from '../part.js';
import { PostgresCluster } from '../postgres-cluster.js';

const PACKAGES = fileURLToPath(new URL('../../..', import.meta.url));
const TODAY = '2025-06-01';
const PASSWORD = 'behind the last pylon';

export interface Answer<T = unknown> {
  readonly status: number;
  readonly body: T;
}

/** Parts of a server that runs on this database, and can be killed and started again. */
interface Slot {
  readonly kind: 'server' | 'worker';
  readonly index: number;
  readonly port: number;
  part: Part;
}

/** Several servers and workers on one database, as on several machines: each has a data folder of its own. */
export class Servers {
  private readonly slots: Slot[] = [];
  private registry: Part | null = null;
  private cookie = '';
  private csrf = '';

  private constructor(
    readonly folder: string,
    readonly repository: string,
    private readonly cluster: PostgresCluster,
    private readonly databasePort: number,
    private readonly registryPort: number,
  ) {}

  static async start(
    files: Readonly<Record<string, string>>,
    documents: Readonly<Record<string, object>>,
    counts: { readonly servers: number; readonly workers: number },
  ): Promise<Servers> {
    const folder = await mkdtemp(join(tmpdir(), 'servers-'));
    const repository = await repositoryWith(folder, files);
    await mkdir(join(folder, 'registry'));
    for (const [name, document] of Object.entries(documents))
      await writeFile(join(folder, 'registry', `${name}.json`), JSON.stringify(document));
    const cluster = await PostgresCluster.at({ folder, isDurable: true });
    const databasePort = await getPort({ host: '127.0.0.1' });
    const registryPort = await getPort({ host: '127.0.0.1', exclude: [databasePort] });
    const servers = new Servers(folder, repository, cluster, databasePort, registryPort);
    await cluster.start(databasePort);
    try {
      await servers.startAll(counts);
    } catch (error) {
      await servers.stop();
      throw error;
    }
    return servers;
  }

  private async startAll(counts: { readonly servers: number; readonly workers: number }) {
    this.registry = await startPart(
      'registry',
      [
        join(PACKAGES, 'registry/dist/main.js'),
        '--documents',
        join(this.folder, 'registry'),
        '--port',
        String(this.registryPort),
      ],
      {},
      join(this.folder, 'registry.log'),
      `${this.registryUrl}/health`,
    );
    // All at once on an empty database: none stands in another's way.
    await Promise.all([
      ...Array.from({ length: counts.servers }, (_, i) => this.add('server', i)),
      ...Array.from({ length: counts.workers }, (_, i) => this.add('worker', i)),
    ]);
    await this.becomeKeeper();
  }

  get registryUrl(): string {
    return `http://127.0.0.1:${this.registryPort}`;
  }

  /** Asks one of the servers as the keeper. @throws where it does not answer */
  async ask<T>(server: number, method: string, path: string, body?: object): Promise<Answer<T>> {
    const response = await fetch(`${this.url(server)}${path}`, {
      method,
      headers: {
        cookie: this.cookie,
        'x-csrf-token': this.csrf,
        ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      },
      ...(body === undefined ? {} : { body: JSON.stringify(body) }),
    });
    const text = await response.text();
    return { status: response.status, body: (text === '' ? null : JSON.parse(text)) as T };
  }

  /** Ends a server or a worker with no word, and starts it again. */
  async kill(kind: Slot['kind'], index: number): Promise<() => Promise<void>> {
    const slot = this.slots.find((one) => one.kind === kind && one.index === index)!;
    try {
      process.kill(slot.part.pid, 'SIGKILL');
    } catch {
      const log = await readFile(join(this.folder, `${kind}-${index}.log`), 'utf8');
      throw new Error(`${kind} ${index} had ended by itself:\n${log.slice(-4000)}`);
    }
    await slot.part.ended;
    return async () => {
      slot.part = await this.part(slot);
    };
  }

  /** Ends PostgreSQL with no word. */
  async killDatabase(): Promise<() => Promise<void>> {
    const pid = await this.query("SELECT split_part(pg_read_file('postmaster.pid'), E'\\n', 1)");
    process.kill(Number(pid), 'SIGKILL');
    return async () => {
      // Its backends end by themselves within a moment.
      for (let i = 0; ; i++) {
        try {
          await this.cluster.start(this.databasePort);
          break;
        } catch (error) {
          if (i === 200) throw error;
          await pause(250);
        }
      }
      for (const { kind, index } of this.slots) if (kind === 'server') await this.answers(index);
    };
  }

  async query(statement: string): Promise<string> {
    const { stdout } = await execa('psql', [this.databaseUrl, '-AtF', ' ', '-c', statement]);
    return stdout;
  }

  async git(...args: readonly string[]): Promise<string> {
    const { stdout } = await execa('git', args, { cwd: this.repository });
    return stdout;
  }

  async stop(): Promise<void> {
    for (const { part } of this.slots) await part.stop();
    await this.registry?.stop();
    await this.cluster.stop();
    await PostgresCluster.remove(this.folder);
    await rm(this.folder, { recursive: true, force: true });
  }

  private get databaseUrl(): string {
    return this.cluster.url(this.databasePort);
  }

  private url(server: number): string {
    const slot = this.slots.find(({ kind, index }) => kind === 'server' && index === server)!;
    return `http://127.0.0.1:${slot.port}`;
  }

  private async answers(server: number): Promise<void> {
    for (let i = 0; i < 1000; i++) {
      const response = await fetch(`${this.url(server)}/api/health`).catch(() => null);
      if (response?.ok === true) return;
      await pause(50);
    }
    throw new Error(`server ${server} does not answer`);
  }

  private async add(kind: Slot['kind'], index: number): Promise<void> {
    const port = await getPort({ host: '127.0.0.1' });
    const slot = { kind, index, port };
    const part = await this.part(slot);
    this.slots.push({ ...slot, part });
  }

  private part({ kind, index, port }: Omit<Slot, 'part'>): Promise<Part> {
    const name = `${kind}-${index}`;
    return startPart(
      name,
      [join(PACKAGES, `server/dist/${kind === 'server' ? 'main' : 'worker-main'}.js`)],
      {
        DATABASE_URL: this.databaseUrl,
        DEEP_LEDGER_DATA: join(this.folder, name),
        DEEP_LEDGER_ARCHIVES: join(this.folder, 'archives'),
        DEEP_LEDGER_TODAY: TODAY,
        DEEP_LEDGER_WORKS: 'no',
        HOST: '127.0.0.1',
        PORT: String(port),
      },
      join(this.folder, `${name}.log`),
      kind === 'server' ? `http://127.0.0.1:${port}/api/health` : null,
    );
  }

  private async becomeKeeper(): Promise<void> {
    const link = await readFile(join(this.folder, 'server-0', 'first-keeper-link'), 'utf8');
    const response = await fetch(`${this.url(0)}/api/one-time-link/password`, {
      method: 'POST',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({
        secret: link.trim().split('#')[1],
        password: PASSWORD,
        name: 'roost',
        shownName: 'Roost crew',
        email: 'roost@brindlepeak.example',
      }),
    });
    if (!response.ok) throw new Error(await response.text());
    this.cookie = response.headers.getSetCookie()[0]!.split(';')[0]!;
    this.csrf = ((await response.json()) as { csrf: string }).csrf;
  }
}

export function pause(ms: number): Promise<void> {
  return new Promise((resolve) => setTimeout(resolve, ms));
}

async function repositoryWith(
  folder: string,
  files: Readonly<Record<string, string>>,
): Promise<string> {
  const work = join(folder, 'work');
  const git = (...args: readonly string[]) => execa('git', args, { cwd: work });
  await mkdir(work);
  await git('init', '--quiet', '--initial-branch=main');
  for (const [path, text] of Object.entries(files)) {
    await mkdir(dirname(join(work, path)), { recursive: true });
    await writeFile(join(work, path), text);
  }
  await git('add', '--all');
  const who = ['-c', 'user.name=gate crew', '-c', 'user.email=gate@brindlepeak.example'];
  await git(...who, 'commit', '--quiet', '-m', 'First');
  const repository = join(folder, 'bare.git');
  await git('clone', '--quiet', '--bare', '.', repository);
  return repository;
}
