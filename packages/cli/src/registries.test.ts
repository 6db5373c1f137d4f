import { execFile } from 'node:child_process';
import { chmod, mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { documentFile } from '@deep-ledger/registry-client';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { documentOf } from './test/registry-document.js';

const COMMAND = fileURLToPath(new URL('../../../bin/deep-ledger', import.meta.url));

const ROOT = `format = 1
name = "w"
projects = ["*"]
[registries]
house = ["@lifts/*", "Brindle-*"]
main = ["*"]
`;

let folder: string;
let env: Record<string, string>;

interface Result {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

function run(...args: readonly string[]): Promise<Result> {
  return new Promise((resolve) => {
    const options = { cwd: join(folder, 'tree'), env: { ...process.env, ...env } };
    execFile(COMMAND, args, options, (error, out, err) => {
      resolve({ code: typeof error?.code === 'number' ? error.code : 0, out, err });
    });
  });
}

async function registry(name: string, packages: Readonly<Record<string, string>>): Promise<string> {
  const place = join(folder, name);
  await mkdir(place);
  for (const [one, version] of Object.entries(packages))
    await writeFile(join(place, documentFile(one)), JSON.stringify(documentOf(one, [version])));
  return place;
}

const lockfile = (): Promise<string> => readFile(join(folder, 'tree/ledger.lock'), 'utf8');

let house: string;
let main: string;

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'registries-'));
  env = { XDG_CONFIG_HOME: join(folder, 'config') };
  await mkdir(join(folder, 'tree/app'), { recursive: true });
  await mkdir(join(folder, 'config/deep-ledger'), { recursive: true });
  await writeFile(join(folder, 'tree/ledger.toml'), ROOT);
  await writeFile(
    join(folder, 'tree/app/ledger.project.toml'),
    'name = "App"\n[needs]\n"@lifts/core" = "*"\n"Brindle-UI" = "*"\n"org.wood:log" = "*"\n',
  );
  house = await registry('house', { '@lifts/core': '1.0.0', 'Brindle-UI': '1.1.0' });
  // Somebody outside publishes by the names of the house, higher.
  main = await registry('main', {
    '@lifts/core': '9.0.0',
    'Brindle-UI': '9.9.9',
    'org.wood:log': '2.0.0',
  });
});
afterEach(() => rm(folder, { recursive: true }));

describe('a name is asked of its own registry and of no other', () => {
  test('whoever else offers it at a higher version', async () => {
    const places = ['--registry', `house=${house}`, '--registry', `main=${main}`];
    expect(await run('lock', ...places)).toMatchObject({ code: 0, err: '' });
    const text = await lockfile();
    expect(text).toContain('copy @lifts/core 1.0.0\n  from house ');
    expect(text).toContain('copy Brindle-UI 1.1.0\n  from house ');
    expect(text).toContain('copy org.wood:log 2.0.0\n  from main ');
    expect(await run('check', ...places)).toMatchObject({ code: 0 });
  });

  test('not even where its own lacks it', async () => {
    await rm(join(house, documentFile('@lifts/core')));
    const { code, err } = await run(
      'lock',
      '--registry',
      `house=${house}`,
      '--registry',
      `main=${main}`,
    );
    expect(code).toBe(1);
    expect(err).toContain('@lifts/core');
  });
});

test('a copy of which the registry is another by now makes the lockfile stale', async () => {
  await run('lock', '--registry', `house=${house}`, '--registry', `main=${main}`);
  await writeFile(join(folder, 'tree/ledger.toml'), ROOT.replace('"@lifts/*", ', ''));
  const { code, err } = await run('check');
  expect(code).toBe(1);
  expect(err).toContain(
    'The lockfile has @lifts/core 1.0.0 from the registry house; the workspace takes @lifts/core from main.',
  );
});

describe('where the registries are is known from', () => {
  const file = (): string => join(folder, 'config/deep-ledger/registries.toml');

  test("the user's file", async () => {
    await writeFile(file(), `house = "${house}"\n[main]\naddress = "${main}"\n`);
    expect(await run('lock')).toMatchObject({ code: 0, err: '' });
    expect(await run('check', '--registry')).toMatchObject({ code: 0, err: '' });
  });

  test('variables of the environment, before the file', async () => {
    await writeFile(file(), `house = "/nowhere"\nmain = "${main}"\n`);
    env['DEEP_LEDGER_REGISTRY_HOUSE'] = house;
    expect(await run('lock')).toMatchObject({ code: 0, err: '' });
  });

  test('options, before both', async () => {
    await writeFile(file(), `house = "/nowhere"\nmain = "${main}"\n`);
    env['DEEP_LEDGER_REGISTRY_HOUSE'] = '/nowhere';
    expect(await run('lock', '--registry', `house=${house}`)).toMatchObject({ code: 0, err: '' });
  });

  test('nobody: it says which, and how to say it', async () => {
    const { code, err } = await run('lock', '--registry', `main=${main}`);
    expect(code).toBe(2);
    expect(err).toContain(
      'Nothing says where the registry house is. Write --registry house=ADDRESS',
    );
  });

  test('an option that does not say for which of several it is meant', async () => {
    const { code, err } = await run('lock', '--registry', main);
    expect(code).toBe(2);
    expect(err).toContain('The workspace has the registries house, main;');
  });

  test('a file that is wrong, with the place', async () => {
    await writeFile(file(), `house = "x"\n[main]\nadress = "y"\n`);
    const { code, err } = await run('lock');
    expect(code).toBe(2);
    expect(err).toContain(`${file()}:3:1: "adress" is not known here. Did you mean "address"?`);
    expect(err).toContain('"address" is missing');
  });

  test('a file with secrets that others may read, with a warning', async () => {
    await writeFile(file(), `house = "${house}"\n[main]\naddress = "${main}"\ntoken = "s3cret"\n`);
    await chmod(file(), 0o644);
    const open = await run('lock');
    expect(open).toMatchObject({ code: 0, err: expect.stringContaining('chmod 600') as string });
    expect(open.err + open.out).not.toContain('s3cret');
    await chmod(file(), 0o600);
    expect(await run('lock')).toMatchObject({ code: 0, err: '' });
  });
});

test('setup-git tells git where each registry is, from the root', async () => {
  await new Promise((resolve) =>
    execFile('git', ['init', '--quiet'], { cwd: join(folder, 'tree') }, resolve),
  );
  await run(
    'setup-git',
    '--no-hooks',
    '--registry',
    'house=../house',
    '--registry',
    'main=http://127.0.0.1:61',
  );
  const config = await readFile(join(folder, 'tree/.git/config'), 'utf8');
  expect(config).toContain(`house=${house}`);
  expect(config).toContain('main=http://127.0.0.1:61');
});

test('a registry with versions of its own scheme is locked by them, spelt as it spells them', async () => {
  const yard = join(folder, 'yard');
  await mkdir(yard);
  const document = documentOf('yard-log', ['1', '1.2', '1.2.0.4', '2.0b1', '2024.01']);
  await writeFile(join(yard, documentFile('yard-log')), JSON.stringify(document));
  const root = (versions: string): string =>
    `format = 1\nname = "w"\nprojects = ["*"]\n[registries]\nyard = { names = ["*"], versions = "${versions}" }\n`;
  await writeFile(join(folder, 'tree/ledger.toml'), root('dotted'));
  await writeFile(
    join(folder, 'tree/app/ledger.project.toml'),
    'name = "App"\n[needs]\nyard-log = "^1.2"\n',
  );
  const place = ['--registry', `yard=${yard}`];
  expect(await run('lock', ...place)).toMatchObject({ code: 0, err: '' });
  expect(await lockfile()).toContain('runtime yard-log "^1.2" by 1.2.0.4');
  expect(await run('check', ...place)).toMatchObject({ code: 0 });

  await writeFile(
    join(folder, 'tree/app/ledger.project.toml'),
    'name = "App"\n[needs]\nyard-log = "2024.1"\n',
  );
  expect(await run('lock', ...place)).toMatchObject({ code: 0, err: '' });
  expect(await lockfile()).toContain('runtime yard-log "2024.1" by 2024.01');

  await writeFile(join(folder, 'tree/ledger.toml'), root('semver'));
  const refused = await run('lock', ...place);
  expect(refused.code).not.toBe(0);
  expect(refused.err).toContain('at /releases/0/version: "1" is not a whole version');
});
