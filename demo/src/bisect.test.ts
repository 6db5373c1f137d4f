import { readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { ServedDemo } from './test/served-demo.js';

/** Fails where two packages are new that do not get on, or where one is new. */
const CHECK = `
const { execFileSync } = require('node:child_process');
const said = execFileSync(process.execPath, ['services/fare-engine/start.js'], { encoding: 'utf8' });
console.log(said);
const has = (what) => said.includes(what);
const mode = process.argv[2];
if (mode === 'late' && has('tarn-json 1.4.1')) setInterval(() => undefined, 1000);
if (mode === 'json' && has('tarn-json 1.4.1')) process.exit(4);
if (mode === undefined && has('nunatak-ids 1.2.2') && has('firnstore 7.1.2')) {
  console.log('ids and store do not agree');
  process.exit(1);
}
`;

const SCHEMA = fileURLToPath(new URL('../../docs/schemas/bisect.schema.json', import.meta.url));

let demo: ServedDemo;

beforeAll(async () => {
  demo = await ServedDemo.start();
  await writeFile(join(demo.clone, 'check.js'), CHECK);
  await demo.git('add', 'check.js');
  await demo.git('commit', '-q', '-m', 'A check');
  const taken = await demo.ledger('upgrade', '--take', 'patch', '--as-of', '2099-01-01');
  expect(taken.exitCode).toBe(0);
  await demo.git('commit', '-q', '-am', 'Take all patches');
  expect((await demo.ledger('upgrade', '--take', 'minor')).exitCode).toBe(0);
  await demo.git('commit', '-q', '-am', 'Take all minors');
  await demo.git('checkout', '-q', '-b', 'json', 'HEAD~2');
  expect((await demo.ledger('upgrade', 'tarn-json', '--take', 'minor')).exitCode).toBe(0);
  await demo.git('commit', '-q', '-am', 'Take the minor of tarn-json');
  await demo.git('checkout', '-q', 'main');
}, 120_000);
afterAll(() => demo.stop());

const WORKS = ['--works', 'HEAD~2', '--target', 'linux-x64'];
const RUN = ['--', process.execPath, 'check.js'];

describe('of all that moved in two commits', () => {
  test('the two are found that do not get on, with who requires them, by which commits, and their notes', async () => {
    const { stdout, stderr, exitCode } = await demo.ledger('bisect', ...WORKS, ...RUN);
    expect({ stderr, exitCode }).toEqual({ stderr: '', exitCode: 0 });
    expect(stdout).toMatch(
      /^Of \d+ differences these 2 together make `.*` fail, found in \d+ trials:/,
    );
    expect(stdout).toMatch(/^firnstore 7\.0\.0 -> 7\.1\.2$/m);
    expect(stdout).toMatch(/^nunatak-ids 1\.2\.0 -> 1\.2\.2$/m);
    expect(stdout).toMatch(/^ {2}for {6}.*services\/fare-engine \(/m);
    expect(stdout).toMatch(/^ {2}commit {3}[0-9a-f]{10} Take all minors \(gate crew, /m);
    expect(stdout).toMatch(/^ {2}commit {3}[0-9a-f]{10} Take all patches \(gate crew, /m);
    expect(stdout).toMatch(/^ {2}notes {4}7\.1\.0: /m);
    expect(stdout).toMatch(/it ended with 1\.\n[^]* {2}ids and store do not agree$/);
    // Nothing is left, and the clone is as it was.
    expect((await readdir(demo.folder)).filter((one) => one.includes('bisect'))).toEqual([]);
    expect(await demo.git('status', '--porcelain')).toBe('');
  });

  test('what does not end in time fails; with --json the same for programs', async () => {
    // The branch as it was before this test, by its day.
    const day = await demo.git('log', '-1', '--format=%cs', 'HEAD~3');
    // One difference, so that one trial fails.
    const ends = ['--works', day, '--fails', 'json', '--target', 'linux-x64'];
    // Far longer than what works takes, also on a machine that others use.
    const options = ['--limit', '10', '--json'];
    const { stdout } = await demo.ledger('bisect', ...ends, ...options, ...RUN, 'late');
    const told = JSON.parse(stdout) as object;
    const schema = JSON.parse(await readFile(SCHEMA, 'utf8')) as object;
    expect(new Ajv2020().validate(schema, told)).toBe(true);
    expect(told).toMatchObject({
      format: 1,
      command: [process.execPath, 'check.js', 'late'],
      culprits: [{ name: 'tarn-json', from: '1.3.0', to: '1.4.1' }],
      ended: 'it had not ended after 10 seconds',
    });
  });

  test('another failure is not taken for the one that is looked for', async () => {
    const lock = join(demo.folder, 'works.lock');
    await writeFile(lock, await demo.git('show', 'HEAD~2:ledger.lock'));
    const says = ['--says', 'ids and store do not agree'];
    const json = [...RUN, 'json'];
    const at = ['bisect', '--works', lock, '--target', 'linux-x64'] as const;
    // Both ends by a file and by name: the later one fails otherwise.
    const refused = await demo.ledger(...at, ...says, ...json);
    expect(refused.exitCode).toBe(1);
    expect(refused.stdout).toContain('and did not print “ids and store do not agree”');
    const found = await demo.ledger(...at, ...json);
    expect(found.stdout).toMatch(/^tarn-json 1\.3\.0 -> 1\.4\.1$/m);
    // By which commit is not known where one end is a file.
    expect(found.stdout).not.toMatch(/^ {2}commit/m);
  });
});

test('where the difference is not in the copies, that is said', async () => {
  const both = await demo.ledger('bisect', ...WORKS, '--', process.execPath, '-e', '0');
  expect(both.exitCode).toBe(1);
  expect(both.stdout).toMatch(
    /does not fail either: it ended with 0\. The difference is not in the copies\.$/,
  );
  const neither = await demo.ledger('bisect', ...WORKS, '--', process.execPath, 'no-such.js');
  expect(neither.stdout).toMatch(
    /^With the lockfile of HEAD~2 the command does not work: it ended with 1\./,
  );
  const same = await demo.ledger('bisect', '--works', 'HEAD', ...RUN);
  expect(same.stdout).toBe('Both lockfiles answer alike; the difference is not in the copies.');
});

test.each<[string, readonly string[], RegExp]>([
  [
    'a program',
    [...WORKS, '--', 'no-such-program'],
    /^no-such-program cannot be run: there is no such program\.$/,
  ],
  ['a commit', ['--works', 'nowhere', ...RUN], /^nowhere is neither a file, a commit nor a day/],
  ['a day', ['--works', '1999-01-01', ...RUN], /^The branch has no commit as old as 1999-01-01\.$/],
  ['a lockfile', ['--works', 'check.js', ...RUN], /^check\.js: /],
  ['a command', WORKS, /missing required argument 'command'/],
])('what is no such thing is told: %s', async (_, args, says) => {
  const { stderr, exitCode } = await demo.ledger('bisect', ...args);
  expect({ stderr, exitCode }).toEqual({
    stderr: expect.stringMatching(says) as string,
    exitCode: 2,
  });
});

test('stopped from the terminal it leaves nothing behind', async () => {
  const running = demo.ledger(
    'bisect',
    ...WORKS,
    '--',
    process.execPath,
    '-e',
    `
    require('node:fs').writeFileSync(${JSON.stringify(join(demo.folder, 'began'))}, String(process.pid));
    setInterval(() => undefined, 1000);`,
  );
  const pid = await readWhenThere(join(demo.folder, 'began'));
  running.kill('SIGINT');
  const { exitCode, stderr } = await running;
  expect({ exitCode, stderr }).toEqual({ exitCode: 2, stderr: 'Stopped.' });
  expect(() => process.kill(Number(pid), 0)).toThrow();
  expect((await readdir(demo.folder)).filter((one) => one.includes('bisect'))).toEqual([]);
});

async function readWhenThere(file: string): Promise<string> {
  return expect
    .poll(() => readFile(file, 'utf8').catch(() => ''), { timeout: 240_000 })
    .not.toBe('')
    .then(() => readFile(file, 'utf8'));
}
