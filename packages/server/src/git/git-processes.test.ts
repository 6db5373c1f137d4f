import { mkdtemp, readFile, rm, stat } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { GitProcesses } from './git-processes.js';
import { GitEnded } from './run-git.js';

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
  vi.waitFor(async () => {
    const number = Number(await readFile(join(folder, name), 'utf8'));
    expect(number).toBeGreaterThan(0);
    return number;
  }, 30_000);

/** What has ended may still be listed until its parent has asked for its end. */
async function isAtWork(process: number): Promise<boolean> {
  const stat = await readFile(`/proc/${process}/stat`, 'utf8').catch(() => null);
  return stat !== null && !/^\d+ \(.*\) [ZX]/s.test(stat);
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
});
