import { cp, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import autocannon from 'autocannon';
import { startStack } from '@deep-ledger/launch/stack';
import { openBrowser } from './browser.js';
import { SIZES, type WorldSize } from './generated-world.js';
import { scrollFrames } from './in-page.js';
import { writeWorld } from './page-world.js';
import { prepare } from './rows.js';
import { ask, signIn, type Session } from './session.js';
import { quantile } from './quantile.js';

const SEED = 20_261_123;
const CLIENTS = 50;
const SECONDS = 8;
const CALM_SECONDS = 20;
const PEOPLE = 200;
const EVENT_RATE = 40;

const root = fileURLToPath(new URL('../..', import.meta.url)).replace(/\/$/, '');
const size = SIZES[(process.argv[2] ?? 'M') as WorldSize['name']] as WorldSize | undefined;
if (size === undefined) throw new RangeError(`"${process.argv[2]}" is none of S, M and L`);
const tell = (line: string): void => void process.stdout.write(`${line}\n`);
const folder = await mkdtemp(join(tmpdir(), 'deep-ledger-bench-'));
try {
  const prepared = prepare(size, SEED);
  const world = await writeWorld(prepared, join(folder, 'world'));
  const webFolder = join(folder, 'web');
  await cp(join(root, 'packages/web/dist'), webFolder, { recursive: true });
  const stack = await startStack({
    root,
    folder: join(folder, 'stack'),
    port: null,
    isDurable: false,
    today: '2026-11-16',
    tell: () => {},
    world,
    webFolder,
  });
  try {
    await measure(stack.url, webFolder);
  } finally {
    await stack.stop();
  }
} finally {
  await rm(folder, { recursive: true, force: true });
}

async function measure(url: string, webFolder: string): Promise<void> {
  const session = await signIn(url);
  const [{ slug }] = (await (await ask(session, `${url}/api/workspaces`)).json()) as [
    { slug: string },
  ];
  const at = `${url}/api/workspaces/${slug}`;
  const alignment = await (await ask(session, `${at}/alignment`)).text();
  const { rows } = JSON.parse(alignment) as { rows: { name: string; usedBy: number }[] };
  const names = rows.sort((a, b) => b.usedBy - a.usedBy).map(({ name }) => name);
  const traces = names.slice(0, 40).map((name) => `${at}/trace?package=${name}`);
  const trace = await (await ask(session, traces[0]!)).text();
  for (const one of traces) await ask(session, one);
  await writeFile(join(webFolder, 'bare-alignment.json'), alignment);
  await writeFile(join(webFolder, 'bare-trace.json'), trace);
  tell(
    `${CLIENTS} clients, ${SECONDS} s each; ${size!.name}; Alignment ${kB(alignment)} kB, a trace ${kB(trace)} kB`,
  );

  const mixed = [`${at}/alignment`, ...traces.slice(0, 9)];
  const times = await calmReading(session, mixed);
  tell(
    `Alignment and Trace, each client about once a second: ${times.length} answers, 50% within ${quantile(times, 0.5).toFixed(0)} ms, 95% within ${quantile(times, 0.95).toFixed(0)} ms (asked: 95% within 100 ms)`,
  );
  for (const [what, address, bare] of [
    ['Alignment', `${at}/alignment`, `${url}/bare-alignment.json`],
    ['Trace', traces[0]!, `${url}/bare-trace.json`],
  ] as const) {
    const ours = await load(session, address);
    const floor = await load(session, bare);
    const share = (100 * ours.requests.average) / floor.requests.average;
    tell(
      `${what}, as fast as it goes: ${ours.requests.average.toFixed(0)} a second, ${share.toFixed(0)}% of a bare route's ${floor.requests.average.toFixed(0)} (asked: 30%)`,
    );
  }
  await withPeople(session, url, slug);
}

/** People at pages: each asks, looks for about a second, and asks again. Milliseconds of each answer. */
async function calmReading(
  session: Session,
  addresses: readonly string[],
): Promise<readonly number[]> {
  const times: number[] = [];
  const until = performance.now() + CALM_SECONDS * 1000;
  const read = async (client: number): Promise<void> => {
    for (let i = client; performance.now() < until; i++) {
      await new Promise((resolve) => setTimeout(resolve, 500 + Math.random() * 1000));
      const start = performance.now();
      await (await ask(session, addresses[i % addresses.length]!)).arrayBuffer();
      times.push(performance.now() - start);
    }
  };
  await Promise.all(Array.from({ length: CLIENTS }, (_, client) => read(client)));
  return times;
}

/** All clients as fast as it goes. */
async function load({ cookie }: Session, address: string): Promise<autocannon.Result> {
  const result = await autocannon({
    url: address,
    connections: CLIENTS,
    duration: SECONDS,
    headers: { cookie },
  });
  if (result.non2xx > 0 || result.errors > 0)
    throw new Error(`${result.non2xx} answers were not as they should, ${result.errors} errors`);
  return result;
}

/** How a page scrolls while many people listen and events flow. */
async function withPeople(session: Session, url: string, slug: string): Promise<void> {
  const stop = new AbortController();
  const heard = { count: 0 };
  const listeners = Array.from({ length: PEOPLE }, () => listen(session, url, slug, heard, stop));
  const browser = await openBrowser();
  try {
    const context = await browser.newContext({
      viewport: { width: 1280, height: 800 },
      extraHTTPHeaders: { cookie: session.cookie },
    });
    const page = await context.newPage();
    await page.goto(`${url}/w/${slug}/alignment?scope=all`);
    await page.locator('tr[data-package]').first().waitFor();
    await page.waitForTimeout(1500);
    const scroll = { selector: null, distance: 90, frames: 200, isSideways: false };
    const quiet = quantile(await page.evaluate(scrollFrames, scroll), 0.95);
    const flow = setInterval(() => {
      void ask(session, `${url}/api/workspaces/${slug}/reports`, {
        method: 'POST',
        body: { kind: 'machine', name: `m${Date.now() % PEOPLE}`, lockSum: 'a'.repeat(64) },
      }).catch(() => {});
    }, 1000 / EVENT_RATE);
    const busy = quantile(await page.evaluate(scrollFrames, scroll), 0.95);
    clearInterval(flow);
    tell(
      `a page while ${PEOPLE} people listen and ${EVENT_RATE} events a second flow (${heard.count} heard): 95% of frames within ${busy.toFixed(0)} ms; without events ${quiet.toFixed(0)} ms`,
    );
  } finally {
    await browser.close();
    stop.abort();
    await Promise.all(listeners);
  }
}

async function listen(
  { cookie }: Session,
  url: string,
  slug: string,
  heard: { count: number },
  stop: AbortController,
): Promise<void> {
  try {
    const response = await fetch(`${url}/api/workspaces/${slug}/events`, {
      headers: { cookie },
      signal: stop.signal,
    });
    const decoder = new TextDecoder();
    for await (const chunk of response.body as unknown as AsyncIterable<Uint8Array>)
      heard.count += decoder.decode(chunk).split('"topic"').length - 1;
  } catch (error) {
    if (!stop.signal.aborted) throw error;
  }
}

function kB(text: string): number {
  return Math.round(Buffer.byteLength(text) / 1000);
}
