import { type ChildProcess, spawn } from 'node:child_process';
import { createHash } from 'node:crypto';
import { once } from 'node:events';
import { cp, mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { text } from 'node:stream/consumers';
import { fileURLToPath } from 'node:url';
import { afterEach, beforeEach, expect, test } from 'vitest';

const bin = fileURLToPath(new URL('../../../bin', import.meta.url));
const UNDER_WAY =
  'Another bin/start of this checkout is under way. Wait until it is ready, or end it with Ctrl+C where it runs.\n';

let checkout: string;
let holder: ChildProcess | null;
beforeEach(async () => {
  checkout = await mkdtemp(join(tmpdir(), 'checkout-'));
  holder = null;
  await cp(bin, join(checkout, 'bin'), { recursive: true });
  await put('package-lock.json', '{}');
  const sum = createHash('sha256').update('{}').digest('hex');
  await put('.local/npm.stamp', `${process.version} ${sum}  -`);
  for (const folder of ['node_modules', 'packages/web/dist'])
    await mkdir(join(checkout, folder), { recursive: true });
  await put('.local/build.stamp', '');
});
afterEach(async () => {
  if (holder !== null) await letGo(holder);
  await rm(checkout, { recursive: true });
});

async function put(path: string, content: string): Promise<void> {
  await mkdir(dirname(join(checkout, path)), { recursive: true });
  await writeFile(join(checkout, path), content);
}

/** A launcher that tells what it is asked for and ends with this code where it is asked whether one runs. */
const putLauncher = (running: number): Promise<void> =>
  put(
    'packages/launch/dist/start.js',
    `const asked = process.argv.slice(2).join(' ');
     console.log('asked: ' + asked);
     process.exitCode = asked === '--running' ? ${running} : 0;`,
  );

/** Another process that has a lock of the checkout. */
async function hold(lock: string): Promise<ChildProcess> {
  const file = join(checkout, '.local', lock);
  holder = spawn('flock', [file, '-c', 'echo held; read -r _'], {
    stdio: ['pipe', 'pipe', 'inherit'],
  });
  await once(holder.stdout!, 'data');
  return holder;
}

async function letGo(process: ChildProcess): Promise<void> {
  if (process.exitCode !== null) return;
  process.stdin!.end();
  await once(process, 'close');
}

const begin = (...words: string[]): ChildProcess =>
  spawn('bash', [join(checkout, 'bin/start'), ...words], { stdio: ['ignore', 'pipe', 'pipe'] });

async function start(...words: string[]): Promise<{ code: number; out: string; err: string }> {
  const process = begin(...words);
  const [[code], out, err] = await Promise.all([
    once(process, 'close'),
    text(process.stdout!),
    text(process.stderr!),
  ]);
  return { code: code as number, out, err };
}

test('alone, it starts what was asked for', async () => {
  await putLauncher(1);
  expect(await start('--port', '4700')).toEqual({ code: 0, out: 'asked: --port 4700\n', err: '' });
});

test.each([[[]], [['--reset']]])(
  'while another is not ready yet, a second with %j starts nothing and says so',
  async (words) => {
    await putLauncher(1);
    await hold('start.lock');
    const { code, out, err } = await start(...words);
    expect({ code, err }).toEqual({ code: 1, err: UNDER_WAY });
    expect(out).toBe(words.length === 0 ? 'asked: --running\n' : '');
  },
);

test('while one runs, a second says where', async () => {
  await putLauncher(0);
  await hold('start.lock');
  expect(await start()).toEqual({ code: 0, out: 'asked: --running\n', err: '' });
});

test('while one runs, --reset stops it first; as long as it has not ended, nothing is thrown away', async () => {
  await putLauncher(0);
  await hold('start.lock');
  expect(await start('--reset')).toEqual({ code: 1, out: 'asked: --stop\n', err: UNDER_WAY });
});

test('while another command prepares the checkout, it waits and then goes on', async () => {
  await putLauncher(1);
  const other = await hold('prepare.lock');
  const process = begin();
  const [first] = await once(process.stdout!.setEncoding('utf8'), 'data');
  expect(first).toBe('waiting    until another command has prepared this checkout\n');
  await letGo(other);
  expect(await text(process.stdout!)).toBe('asked: \n');
});
