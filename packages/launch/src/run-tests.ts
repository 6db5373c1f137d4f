import { mkdir, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { existsSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { parseArgs } from 'node:util';
import getPort from 'get-port';
import { PostgresCluster } from './postgres-cluster.js';
import { runMain } from './run-main.js';
import { runSteps, wordsOf, type Run, type Step } from './run-steps.js';
import { say, Trouble } from './say.js';
import { openScratch } from './scratch.js';
import { startStack } from './stack.js';
import { countOfPlaywright, countOfVitest, type Count } from './test-reports.js';

/** The day on which the tests take place, so that ages and exceptions come out the same on every other. */
const TODAY = '2026-11-16';
/** How often `--deep` tries each random property. */
const DEEP_RUNS = '5000';
/** Steps that run at the same time: on two cores four, since some of them mostly wait, for a browser, a database or git. */
const SIDE_BY_SIDE = 4;

/** As for the tests of packages: what runs for some minutes is not worth compiling for good so soon. */
const RARELY_COMPILED = ['--interrupt-budget=400000'];

/** The other one, of version 6, is there for the library that writes the web application's types of the server. */
const TSC = 'node_modules/typescript-native/bin/tsc';

/** Seen from where the browser's tests are. */
const PLAYWRIGHT = '../node_modules/@playwright/test/cli.js';

const root = fileURLToPath(new URL('../../..', import.meta.url)).replace(/\/$/, '');
/** What is left for whoever looks into a failure. */
const folder = join(root, '.local/test');

/** Ctrl+C and its like end what runs, and stop what was started for it. */
const stopping = new AbortController();
for (const signal of ['SIGINT', 'SIGTERM', 'SIGHUP'] as const)
  process.on(signal, () => stopping.abort());

/** The longest first, so that the last to end does not run alone for long. */
const STEPS: Readonly<Record<string, Step>> = {
  e2e: (run) => playwright('e2e', run),
  server: serverTests,
  core: (run) => vitest('packages/core', run),
  cli: (run) => vitest('packages/cli', run),
  demo: (run) => vitest('demo', run),
  launch: (run) => vitest('packages/launch', run),
  install: (run) => vitest('packages/install', run),
  web: (run) => vitest('packages/web', run),
  lint: (run) => check('oxlint', ['--config', 'oxlint.config.js'], run),
  types: (run) => check(process.execPath, [TSC, '-b', 'tsconfig.tests.json'], run),
  format: (run) => check('oxfmt', ['--check', '.'], run),
  'registry-client': (run) => vitest('packages/registry-client', run),
  registry: (run) => vitest('packages/registry', run),
  api: apiIsCurrent,
};

/** Steps that make something instead of testing; run only by name. */
const BY_NAME: Readonly<Record<string, Step>> = {
  screenshots: (run) => playwright('screenshots', run),
};

async function main(): Promise<void> {
  const { values } = parseArgs({
    options: { only: { type: 'string', multiple: true }, deep: { type: 'boolean' } },
  });
  const all = { ...STEPS, ...BY_NAME };
  const names = values.only ?? Object.keys(STEPS);
  const unknown = names.find((name) => !(name in all));
  if (unknown !== undefined)
    throw new Trouble(`There is no step "${unknown}". Known are ${Object.keys(all).join(', ')}.`);
  if (values.deep === true) process.env['RUNS'] = DEEP_RUNS;
  // Nothing is asked beyond this machine, and reading certificates would take each program longer than all else at its start.
  delete process.env['NODE_EXTRA_CA_CERTS'];
  await mkdir(folder, { recursive: true });
  process.env['GIT_CONFIG_GLOBAL'] = await gitSettings();
  const scratch = await openScratch(clear);
  process.env['TMPDIR'] = scratch;
  const sum = await runSteps(
    names.map((name) => [name, all[name]!]),
    { root, sideBySide: SIDE_BY_SIDE, say, signal: stopping.signal },
  ).finally(() => clear(scratch));
  say('');
  if (sum === null) {
    say('stopped before all was tested');
    process.exitCode = 1;
    return;
  }
  if (sum.failures.length > 0) say(`failed in:\n${sum.failures.join('\n')}`);
  say(wordsOf(sum));
  process.exitCode = sum.failed === 0 && sum.passed > 0 ? 0 : 1;
}

/**
 * Git's settings in tests: none of whoever runs them. Nothing is forced onto the disk, which takes most of the time of a
 * small commit and matters only to who loses power.
 */
async function gitSettings(): Promise<string> {
  const file = join(folder, 'gitconfig');
  const who = '[user]\n\tname = gate crew\n\temail = gate.crew@brindlepeak.example\n';
  await writeFile(file, `[core]\n\tfsync = none\n${who}`);
  return file;
}

const GREEN: Count = { passed: 1, failed: 0, skipped: 0, failures: [] };
const RED: Count = { passed: 0, failed: 1, skipped: 0, failures: [] };

/** A tool that only says yes or no. */
async function check(program: string, args: readonly string[], run: Run): Promise<Count> {
  const { exitCode } = await run(program, args, root);
  return exitCode === 0 ? GREEN : RED;
}

/** The web application's types must come from the server's interface as it is now. */
async function apiIsCurrent(run: Run): Promise<Count> {
  const fresh = join(folder, 'openapi.json');
  await run(process.execPath, ['packages/server/dist/write-openapi.js', fresh], root);
  const parse = async (file: string): Promise<string> =>
    JSON.stringify(JSON.parse(await readFile(file, 'utf8')));
  const isCurrent =
    (await parse(fresh)) ===
    (await parse(join(root, 'packages/web/src/api/generated/openapi.json')));
  if (!isCurrent) say('packages/web/src/api is not what the server says. Run: npm run api');
  return isCurrent ? GREEN : RED;
}

async function vitest(
  path: string,
  run: Run,
  env: Readonly<Record<string, string>> = {},
): Promise<Count> {
  const report = join(folder, `${path.replaceAll('/', '-')}.json`);
  await rm(report, { force: true });
  const { exitCode } = await run(
    'vitest',
    ['run', '--reporter=default', '--reporter=json', `--outputFile.json=${report}`],
    join(root, path),
    env,
  );
  if (!existsSync(report)) return RED;
  return countOfVitest(await readFile(report, 'utf8'), exitCode);
}

async function serverTests(run: Run): Promise<Count> {
  const cluster = await PostgresCluster.at({ folder: join(tmpdir(), 'units'), isDurable: false });
  const port = await getPort({ host: '127.0.0.1' });
  try {
    await cluster.start(port);
    return await vitest('packages/server', run, { DATABASE_URL: cluster.url(port) });
  } finally {
    await cluster.stop();
  }
}

async function playwright(project: string, run: Run): Promise<Count> {
  const home = join(tmpdir(), project);
  // The database's own user goes through it.
  await mkdir(home, { mode: 0o711 });
  const stack = await startStack({
    root,
    folder: home,
    logFolder: join(folder, 'logs', project),
    port: null,
    isDurable: false,
    nodeOptions: RARELY_COMPILED,
    today: TODAY,
    tell: say,
    signal: stopping.signal,
  });
  const report = join(folder, `${project}.json`);
  await rm(report, { force: true });
  let exitCode: number | undefined;
  try {
    const args = [...RARELY_COMPILED, PLAYWRIGHT, 'test', '--project', project];
    ({ exitCode } = await run(process.execPath, args, join(root, 'e2e'), {
      DEEP_LEDGER_URL: stack.url,
      DEEP_LEDGER_REGISTRY: stack.registryUrl,
      DEEP_LEDGER_REPOSITORY: stack.repository,
      ...(stack.ferries === undefined
        ? {}
        : {
            DEEP_LEDGER_FERRIES: stack.ferries.repository,
            DEEP_LEDGER_HOUSE: stack.ferries.houseUrl,
          }),
      PLAYWRIGHT_JSON_OUTPUT_FILE: report,
    }));
  } finally {
    await stack.stop();
  }
  if (!existsSync(report)) return RED;
  return countOfPlaywright(await readFile(report, 'utf8'), exitCode);
}

/** Takes a folder of tests away, with the databases that run from it. */
async function clear(scratch: string): Promise<void> {
  for (const name of await readdir(scratch)) {
    const home = join(scratch, name);
    if (!existsSync(join(home, 'postgres-password'))) continue;
    await (await PostgresCluster.at({ folder: home, isDurable: false })).stop();
    await PostgresCluster.remove(home);
  }
  await rm(scratch, { recursive: true, force: true });
}

await runMain(main);
