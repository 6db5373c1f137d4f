import { mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { GitProcesses } from './git-processes.js';
import { GitEnded } from './run-git.js';
import { until } from '../test/until.js';

const LIMIT = { limitMs: 60_000 };

let folder: string;
beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'deep-ledger-git-'));
});
afterEach(() => rm(folder, { recursive: true }));

/** A call of git whose helper says its number in a file, and then writes until it is ended. */
const writer = (name: string): readonly string[] => {
  const file = join(folder, name);
  return ['-c', `alias.write=!echo $$ > ${file}; while :; do date > ${file}.now; done`, 'write'];
};

const begun = (name: string): Promise<number> =>
  until(async () => {
    const number = Number(await readFile(join(folder, name), 'utf8'));
    expect(number).toBeGreaterThan(0);
    return number;
  });

/** What has ended may still be listed until its parent has asked for its end. */
async function isAtWork(process: number): Promise<boolean> {
  const stat = await readFile(`/proc/${process}/stat`, 'utf8').catch(() => null);
  return stat !== null && !/^\d+ \(.*\) [ZX]/s.test(stat);
}

async function parentOf(process: number): Promise<number> {
  const stat = await readFile(`/proc/${process}/stat`, 'utf8');
  return Number(/^\d+ \(.*\) \w (\d+)/s.exec(stat)![1]);
}

test('once it is closed no call goes on, and none begins', async () => {
  const processes = new GitProcesses();
  const calls = ['a', 'b'].map((name) => processes.run(writer(name), LIMIT));
  const ends = Promise.allSettled(calls);
  const helpers = await Promise.all(['a', 'b'].map(begun));
  await processes.beforeApplicationShutdown();
  for (const helper of helpers) expect(await isAtWork(helper)).toBe(false);
  for (const end of await ends)
    expect(end).toMatchObject({ status: 'rejected', reason: { isStopped: true } });
  await expect(processes.run(writer('late'), LIMIT)).rejects.toThrow(GitEnded);
  await expect(stat(join(folder, 'late'))).rejects.toThrow('ENOENT');
});

test('a server that closes leaves those of another alone', async () => {
  const [closing, staying] = [new GitProcesses(), new GitProcesses()];
  const over = new AbortController();
  const call = staying.run(writer('stays'), { ...LIMIT, signal: over.signal });
  const ended = call.catch((error: unknown) => error);
  const helper = await begun('stays');
  await closing.beforeApplicationShutdown();
  expect(await isAtWork(helper)).toBe(true);
  over.abort();
  expect(await ended).toMatchObject({ isStopped: true });
  await staying.beforeApplicationShutdown();
});

test('what git says comes back byte for byte, of many calls at once', async () => {
  const processes = new GitProcesses();
  const said = await Promise.all(
    [0, 1, 2, 3].map((byte) => {
      const input = String.fromCharCode(byte).repeat(300_000);
      return processes.run(['hash-object', '-w', '--stdin'], { ...LIMIT, input, cwd: folder });
    }),
  );
  expect(said.map(({ exitCode }) => exitCode)).toEqual([128, 128, 128, 128]);
  expect(said[0]!.stderr).toContain('not a git repository');
  await processes.run(['init', '--quiet', '--bare', '.'], { ...LIMIT, cwd: folder });
  for (const byte of [0, 1, 255]) {
    const input = String.fromCharCode(byte).repeat(300_000);
    const hash = await processes.run(['hash-object', '-w', '--stdin'], {
      ...LIMIT,
      input,
      cwd: folder,
    });
    const args = ['cat-file', 'blob', hash.stdout.toString().trim()];
    const { stdout } = await processes.run(args, { ...LIMIT, cwd: folder });
    expect(Buffer.isBuffer(stdout)).toBe(true);
    expect(stdout.equals(Buffer.from(input))).toBe(true);
  }
  await processes.beforeApplicationShutdown();
});

test('where the process that starts git is ended from outside, its calls say so, and the next has another', async () => {
  const processes = new GitProcesses();
  const call = processes.run(writer('a'), LIMIT).catch((error: unknown) => error);
  const helper = await begun('a');
  const starter = await parentOf(await parentOf(helper));
  process.kill(starter, 'SIGKILL');
  const end = await call;
  process.kill(helper, 'SIGKILL');
  expect(end).toMatchObject({ message: expect.stringContaining('SIGKILL') as string });
  expect(await processes.run(['--version'], LIMIT)).toMatchObject({ exitCode: 0 });
  await processes.beforeApplicationShutdown();
});
