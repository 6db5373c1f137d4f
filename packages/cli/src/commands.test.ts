import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';

const COMMAND = fileURLToPath(new URL('../../../bin/deep-ledger', import.meta.url));

const FILES = {
  'ledger.toml': 'format = 1\nname = "w"\nprojects = ["*"]\nregistry = "main"\n',
  'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^1.0.0"\n',
  'web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "shared"\n',
};

function release(version: string) {
  const archive = {
    path: `/archives/log/${version}`,
    integrity: `sha512-${'A'.repeat(86)}==`,
    bytes: 1,
  };
  return { version, published: '2024-01-01T00:00:00Z', archive };
}

interface Result {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

let folder: string;
let registry: string;

function run(...args: readonly string[]): Promise<Result> {
  return new Promise((resolve) => {
    execFile(COMMAND, args, { cwd: folder }, (error, out, err) => {
      resolve({ code: typeof error?.code === 'number' ? error.code : 0, out, err });
    });
  });
}

async function write(files: Readonly<Record<string, string>>): Promise<void> {
  for (const [path, text] of Object.entries(files)) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeFile(join(folder, path), text);
  }
}

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'cli-'));
  registry = join(folder, '.registry');
  await write(FILES);
  await mkdir(registry);
  await writeFile(
    join(registry, 'log.json'),
    JSON.stringify({ name: 'log', releases: [release('1.0.0'), release('1.1.0')] }),
  );
});
afterEach(() => rm(folder, { recursive: true }));

test('check before, lock, check after, lock again', async () => {
  expect(await run('check')).toMatchObject({
    code: 1,
    err: expect.stringMatching(
      /ledger\.lock:1:1: There is no ledger\.lock yet\.[^]*The lockfile is stale\./,
    ) as string,
  });
  const locked = await run('lock', '--registry', registry);
  expect(locked).toMatchObject({ code: 0, err: '' });
  expect(locked.out).toMatch(
    /^in {5}log 1\.1\.0\nledger\.lock written: 1 copies, sum [0-9a-f]{8}\.\n$/,
  );
  expect(await readFile(join(folder, 'ledger.lock'), 'utf8')).toContain('copy log 1.1.0\n');
  expect(await run('check')).toMatchObject({
    code: 0,
    out: expect.stringMatching(/^The lockfile is true: 1 copies/) as string,
  });
  const before = await stat(join(folder, 'ledger.lock'));
  expect(await run('lock', '--registry', registry)).toMatchObject({
    code: 0,
    out: expect.stringMatching(/is true already/) as string,
  });
  expect((await stat(join(folder, 'ledger.lock'))).mtimeMs).toBe(before.mtimeMs);
});

test('check lists what is stale with its place; --in names another folder', async () => {
  await run('lock', '--registry', registry);
  await write({ 'ledger.shared.toml': FILES['ledger.shared.toml'].replace('^1.0.0', '^2.0.0') });
  const { code, err } = await run('check', '--in', folder);
  expect(code).toBe(1);
  expect(err).toContain(
    'web/ledger.project.toml:3:1: web requires log "shared", which stands for ^2.0.0; the lockfile answers "shared", which stands for ^1.0.0.',
  );
});

test('no answer is explained, and nothing is written', async () => {
  await write({ 'ledger.shared.toml': FILES['ledger.shared.toml'].replace('^1.0.0', '^2.0.0') });
  const { code, err } = await run('lock', '--registry', registry);
  expect(code).toBe(1);
  expect(err).toMatch(
    /nothing was written[^]*web\/ledger\.project\.toml requires log the shared version \^2\.0\.0\.\nlog has 2 releases/,
  );
  await expect(stat(join(folder, 'ledger.lock'))).rejects.toThrow('ENOENT');
});

test('a broken lockfile is said to be broken, and written anew', async () => {
  await write({ 'ledger.lock': 'garbage\n' });
  expect(await run('check')).toMatchObject({
    code: 2,
    err: expect.stringContaining('ledger.lock:1:1: This is no lockfile') as string,
  });
  expect(await run('lock', '--registry', registry)).toMatchObject({
    code: 0,
    err: expect.stringContaining('resolving from nothing') as string,
  });
  expect(await run('check')).toMatchObject({ code: 0 });
});

describe('what cannot be read ends with 2 and says why:', () => {
  test.each<[string, readonly string[], RegExp]>([
    ['an unknown command', ['dance'], /unknown command/],
    ['no registry named', ['lock'], /required option '--registry <place>' not specified/],
    ['a folder that is not there', ['check', '--in', '/nonexistent'], /no such file or directory/],
    [
      'a registry that does not run',
      ['lock', '--registry', 'http://127.0.0.1:61'],
      /cannot be reached/,
    ],
  ])('%s', async (_, args, message) => {
    const { code, err } = await run(...args);
    expect(code).toBe(2);
    expect(err).toMatch(message);
  });

  test('a manifest with a mistake', async () => {
    await write({ 'web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "latest"\n' });
    expect(await run('check')).toMatchObject({
      code: 2,
      err: expect.stringMatching(
        /^web\/ledger\.project\.toml:3:8: The range of "log" cannot be read: "latest" is no version/,
      ) as string,
    });
  });

  test('a registry document that is nonsense', async () => {
    await writeFile(join(registry, 'log.json'), '{"name": "log"}');
    expect(await run('lock', '--registry', registry)).toMatchObject({
      code: 2,
      err: expect.stringMatching(/log\.json is not a package document; at \/releases:/) as string,
    });
  });

  test('a registry that answers with another package', async () => {
    await writeFile(
      join(registry, 'log.json'),
      JSON.stringify({ name: 'other', releases: [release('1.0.0')] }),
    );
    const { code, err } = await run('lock', '--registry', registry);
    expect(code).toBe(2);
    expect(err).toContain('log.json answers with the document of other.');
  });

  test('a file that is not UTF-8', async () => {
    await writeFile(join(folder, 'ledger.toml'), Buffer.from([0xff]));
    expect(await run('check')).toMatchObject({
      code: 2,
      err: 'ledger.toml is not UTF-8 text. Save it as UTF-8.\n',
    });
  });
});

test('help tells the commands and exit codes', async () => {
  const { code, out } = await run('--help');
  expect(code).toBe(0);
  expect(out).toMatch(/lock .*[^]*check .*[^]*Exit codes: 0 the lockfile is true/);
});
