import { createHash } from 'node:crypto';
import { afterEach, expect, test, vi } from 'vitest';
import { git, gitBytes, GitError, tryGit } from './git.js';

afterEach(() => {
  vi.unstubAllEnvs();
});

test('how git ended is handed back, whatever that is; a program that fails is an error with what it said', async () => {
  expect(await tryGit('.', ['check-ref-format', 'a..b'])).toMatchObject({ code: 1, out: '' });
  const failing = ['rev-parse', '--verify', 'nothing^{commit}'];
  expect((await tryGit('.', failing)).err).toContain('Needed a single revision');
  await expect(git('.', failing)).rejects.toThrow(GitError);
  await expect(git('.', failing)).rejects.toThrow('Needed a single revision');
});

test('what it is given and what it prints are taken as they are, with variables beside those that are set', async () => {
  const input = 'føhn 🏔\n'.repeat(20_000);
  const hash = createHash('sha1')
    .update(`blob ${Buffer.byteLength(input)}\0${input}`)
    .digest('hex');
  const printed = await gitBytes('.', ['hash-object', '--stdin'], { input });
  expect(printed).toEqual(Buffer.from(`${hash}\n`));
  const env = { GIT_CONFIG_COUNT: '1', GIT_CONFIG_KEY_0: 'a.b', GIT_CONFIG_VALUE_0: 'gate' };
  expect(await git('.', ['config', 'a.b'], { env })).toBe('gate\n');
});

test('a git that fails before it has read all that it is given is no other failure than that', async () => {
  const input = 'x'.repeat(10_000_000);
  expect((await tryGit('.', ['hash-object', '--no-such'], { input })).code).toBe(129);
});

test('where there is no git, that is said', async () => {
  vi.stubEnv('PATH', '/nonexistent');
  await expect(tryGit('.', ['--version'])).rejects.toThrow(
    new GitError('The program git cannot be run. Install git.'),
  );
});
