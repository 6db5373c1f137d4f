import { readFile, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import { PostgresCluster } from './postgres-cluster.js';
import { clearRunState, isOurs, readRunState, writeRunState } from './run-state.js';
import { runMain } from './run-main.js';
import { say, Trouble } from './say.js';
import { HOUSE_TOKEN, startStack } from './stack.js';

const root = fileURLToPath(new URL('../../..', import.meta.url)).replace(/\/$/, '');
const folder = join(root, '.local');

async function main(): Promise<void> {
  const { values } = parseArgs({
    options: {
      stop: { type: 'boolean', default: false },
      running: { type: 'boolean', default: false },
      reset: { type: 'boolean', default: false },
      empty: { type: 'boolean', default: false },
      port: { type: 'string' },
    },
  });
  if (values.stop) return stopRunning('nothing is running');
  if (values.running) return sayRunning();
  if (values.reset) {
    await stopRunning(null);
    await PostgresCluster.remove(folder);
    for (const name of ['data', 'data-worker', 'demo', 'logs', 'secret'])
      await rm(join(folder, name), { recursive: true, force: true });
    say('reset      database, clones and demo removed');
  }
  await stopRunning(null);
  await run(portOf(values.port), values.empty);
}

/** Says where it runs; the exit code tells whether it does. */
async function sayRunning(): Promise<void> {
  const state = await readRunState(folder);
  if (state !== null && (await isOurs(state.launcher, root)))
    say(`Deep Ledger is running already: ${state.url}`);
  else process.exitCode = 1;
}

function portOf(text: string | undefined): number | null {
  if (text === undefined) return null;
  const port = Number(text);
  if (Number.isInteger(port) && port > 0 && port <= 65535) return port;
  throw new Trouble(`"${text}" is no port. Write a number from 1 to 65535.`);
}

async function run(port: number | null, isEmpty: boolean): Promise<void> {
  const asking = new AbortController();
  const asked = new Promise<void>((resolve) => {
    for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const) {
      process.on(signal, () => {
        asking.abort();
        resolve();
      });
    }
  });
  const stack = await startStack({
    root,
    folder,
    port,
    isDurable: true,
    isEmpty,
    today: null,
    tell: say,
    signal: asking.signal,
  });
  await writeRunState(folder, { launcher: process.pid, parts: stack.pids, url: stack.url });
  say('');
  say(`Deep Ledger is ready: ${stack.url}`);
  if (isEmpty) {
    const link = await readFile(join(folder, 'data/first-keeper-link'), 'utf8').catch(() => null);
    if (link !== null) say(`The first keeper's link, good once: ${link.trim()}`);
  } else {
    say(`The demo's overview:  ${stack.url}/w/brindlepeak/overview`);
    if (stack.ferries !== undefined) {
      say(`One to bring in:      ${stack.url}/w/wendholm/bring-in`);
      say(`Its registries:       main ${stack.registryUrl}`);
      say(`                      house ${stack.ferries.houseUrl}, token ${HOUSE_TOKEN}`);
    }
    say(
      'Sign in as platform (keeper), kiosk (editor) or gate (reader); password: brindlepeak demo',
    );
  }
  say('Ctrl+C stops everything.');
  const lost = await Promise.race([asked.then(() => null), stack.lost]);
  say(
    lost === null
      ? '\nstopping'
      : `the ${lost} ended by itself; stopping. See ${join(folder, 'logs')}.`,
  );
  await stack.stop();
  await clearRunState(folder);
  if (lost !== null) process.exitCode = 1;
}

/** Stops a running launcher, or what a killed one left behind. */
async function stopRunning(otherwise: string | null): Promise<void> {
  const state = await readRunState(folder);
  if (state === null) {
    if (otherwise !== null) say(otherwise);
    return;
  }
  if (await isOurs(state.launcher, root)) {
    process.kill(state.launcher, 'SIGTERM');
    while (await isOurs(state.launcher, root))
      await new Promise((resolve) => setTimeout(resolve, 100));
  } else {
    for (const pid of state.parts) if (await isOurs(pid, root)) process.kill(pid, 'SIGTERM');
    await (await PostgresCluster.at({ folder, isDurable: true })).stop();
  }
  await clearRunState(folder);
  say('stopped');
}

await runMain(main);
