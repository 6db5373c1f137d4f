import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { createServer, type AddressInfo } from 'node:net';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { execa } from 'execa';
import { Client } from 'pg';
import { startStack, type Stack } from '@deep-ledger/launch/stack';
import { SIZES, type WorldSize } from './generated-world.js';
import { writeWorld } from './page-world.js';
import { prepare } from './rows.js';
import { ask, signIn, type Session } from './session.js';
import { quantile } from './quantile.js';

const SEED = 20_261_123;
const READERS = 10;
const CLIENTS = 30;
const SECONDS = 15;
const PROBE_MS = 10;
/** What the page Alignment asks for first. */
const FIRST_ROWS = '/alignment?scope=shared&cells=false';
const PAGES = [
  '',
  FIRST_ROWS,
  '/names',
  '/lock',
  '/journal',
  '/machines',
  '/drafts',
  '/findings/count',
  '/drift/over-time',
];

const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');
const size = SIZES[(process.argv[2] ?? 'L') as WorldSize['name']] as WorldSize | undefined;
if (size === undefined) throw new RangeError(`"${process.argv[2]}" is none of S, M and L`);
const tell = (line: string): void => void process.stdout.write(`${line}\n`);
const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-bench-'));
try {
  await withStack('demo', undefined, onDemo);
  const world = await writeWorld(prepare(size, SEED), join(folder, 'world'));
  await withStack('generated', world, onGenerated);
} finally {
  await rm(folder, { recursive: true, force: true });
}

async function withStack(
  name: string,
  world: { readonly documents: string; readonly repository: string } | undefined,
  measure: (stack: Stack, session: Session, at: string) => Promise<void>,
): Promise<void> {
  const stack = await startStack({
    root,
    folder: join(folder, name),
    port: null,
    isDurable: false,
    today: '2026-11-16',
    tell: () => {},
    ...(world === undefined ? {} : { world }),
  });
  try {
    const session = await signIn(stack.url);
    const [{ slug }] = (await (await ask(session, `${stack.url}/api/workspaces`)).json()) as [
      { slug: string },
    ];
    await measure(stack, session, `${stack.url}/api/workspaces/${slug}`);
  } finally {
    await stack.stop();
  }
}

/** Many people at the demo, and the same while repository host and registry take calls and say nothing. */
async function onDemo(stack: Stack, session: Session, at: string): Promise<void> {
  for (const page of PAGES) await (await ask(session, `${at}${page}`)).arrayBuffer();
  await untilIdle(session, at);
  const many = await reading(session, at, CLIENTS);
  tell(
    `demo, ${CLIENTS} clients reading everything as fast as it goes: 95% within ${ms(many)} (asked: 300 ms)`,
  );
  const calm = await reading(session, at, READERS);
  const silent = createServer((socket) => socket.on('error', () => undefined).resume());
  await new Promise<void>((resolve) => silent.listen(0, '127.0.0.1', resolve));
  const place = `127.0.0.1:${(silent.address() as AddressInfo).port}`;
  await pointAt(stack, `git://${place}/x.git`);
  // A process that stands still: calls to it are taken, and nobody answers.
  process.kill(stack.registryPid, 'SIGSTOP');
  const disturbed = await reading(session, at, READERS).finally(() =>
    process.kill(stack.registryPid, 'SIGCONT'),
  );
  tell(
    `demo, ${READERS} readers: 95% within ${ms(calm)}; while git's host and the registry hang ${ms(disturbed)}, ${(quantile(disturbed, 0.95) / quantile(calm, 0.95)).toFixed(2)} times (asked: 1.2)`,
  );
  silent.close();
}

/** Until the work is over that the first look at some pages begins. */
async function untilIdle(session: Session, at: string): Promise<void> {
  for (;;) {
    const jobs = (await (await ask(session, `${at}/jobs`)).json()) as { state: string }[];
    if (!jobs.some(({ state }) => state === 'waiting' || state === 'running')) return;
    await new Promise((resolve) => setTimeout(resolve, 500));
  }
}

/** The longest time for which the server answers nobody while a commit arrives, and what Alignment weighs. */
async function onGenerated(stack: Stack, session: Session, at: string): Promise<void> {
  for (const page of PAGES) await (await ask(session, `${at}${page}`)).arrayBuffer();
  for (const page of [FIRST_ROWS, '/alignment', '/names']) {
    const answer = await fetch(`${at}${page}`, { headers: { cookie: session.cookie } });
    const packed = Number(answer.headers.get('content-length'));
    const whole = await answer.arrayBuffer();
    tell(`${size!.name}, ${page}: ${kB(whole.byteLength)} kB, packed ${kB(packed)} kB`);
  }
  const quiet = await longestStall(stack.url, () => reading(session, at, READERS, 10));
  const stall = await longestStall(stack.url, async () => {
    const read = reading(session, at, READERS, 30);
    await commitThree(stack.repository);
    await ask(session, `${at}/refresh`, { method: 'POST' });
    await read;
  });
  tell(
    `${size!.name}, longest stall while ${READERS} people read: ${Math.round(quiet)} ms; and a commit of 3 manifests arrives: ${Math.round(stall)} ms (asked: 1500 ms)`,
  );
}

/** Reads pages without rest. @returns milliseconds of each answer */
async function reading(
  session: Session,
  at: string,
  readers: number,
  seconds = SECONDS,
): Promise<readonly number[]> {
  const times: number[] = [];
  const until = performance.now() + seconds * 1000;
  const read = async (reader: number): Promise<void> => {
    for (let i = reader; performance.now() < until; i++) {
      const start = performance.now();
      await (await ask(session, `${at}${PAGES[i % PAGES.length]!}`)).arrayBuffer();
      times.push(performance.now() - start);
    }
  };
  await Promise.all(Array.from({ length: readers }, (_, reader) => read(reader)));
  return times;
}

/** Asks again and again for what costs nothing. @returns the longest time until an answer */
async function longestStall(url: string, work: () => Promise<unknown>): Promise<number> {
  let longest = 0;
  let isOver = false;
  const probe = (async () => {
    while (!isOver) {
      const start = performance.now();
      await (await fetch(`${url}/api/health`)).arrayBuffer();
      longest = Math.max(longest, performance.now() - start);
      await new Promise((resolve) => setTimeout(resolve, PROBE_MS));
    }
  })();
  await work();
  isOver = true;
  await probe;
  return longest;
}

async function pointAt({ databaseUrl }: Stack, address: string): Promise<void> {
  const client = new Client({ connectionString: databaseUrl });
  await client.connect();
  try {
    await client.query('UPDATE workspace SET address = $1 WHERE slug = $2', [
      address,
      'brindlepeak',
    ]);
  } finally {
    await client.end();
  }
}

/** A comment more in three manifests. */
async function commitThree(repository: string): Promise<void> {
  const work = await mkdtemp(join(folder, 'work-'));
  const git = (...args: readonly string[]) =>
    execa('git', ['-c', 'user.name=bench', '-c', 'user.email=b@brindlepeak.example', ...args], {
      cwd: work,
    });
  await git('clone', '--quiet', repository, '.');
  const { stdout } = await git('ls-files', '*/ledger.project.toml');
  for (const path of stdout.split('\n').slice(0, 3)) {
    const file = join(work, path);
    await writeFile(file, `${await readFile(file, 'utf8')}# one more line\n`);
  }
  await git('commit', '--quiet', '--all', '--message', 'Three manifests');
  await git('push', '--quiet', 'origin', 'main');
}

function kB(bytes: number): number {
  return Math.round(bytes / 1000);
}

function ms(times: readonly number[]): string {
  return `${Math.round(quantile(times, 0.95))} ms`;
}
