import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readdir, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { documentFile } from '@deep-ledger/registry-client';
import { afterEach, beforeEach, expect, test } from 'vitest';
import { documentOf } from './test/registry-document.js';

const COMMAND = fileURLToPath(new URL('../../../bin/deep-ledger', import.meta.url));

const FERRIES = {
  'gate/build/app.yaml':
    'app: { id: gate }\nlibraries:\n  log: "@agreed"   # old lines\n  json: ^1.0.0\n',
  'roster/build/app.yaml': 'app: { id: roster }\nlibraries:\n  log: "@agreed"\n  mast: "@agreed"\n',
  'versions.json': '{ "agreed": { "log": "^1.0.0", "mast": "^1.0.0" } }\n',
  'berths/berth.xml':
    '<berth id="berths">\n  <lib id="log"><wanted>[1.0,2.0)</wanted></lib>\n</berth>\n',
  'board/uses.txt': 'use log at 1.1.0\nuse mast at 1.0.0\n',
  'docs/pier.json': '{ "length": 40 }\n',
  'frozen.json':
    '{ "set": [{ "name": "log", "at": "1.1.0" }, { "name": "json", "at": "1.0.0" }, { "name": "mast", "at": "0.9.0" }] }\n',
};

let folder: string;
let tree: string;

interface Result {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

function run(...args: readonly string[]): Promise<Result> {
  return new Promise((resolve) => {
    execFile(COMMAND, args, { cwd: tree }, (error, out, err) => {
      resolve({ code: typeof error?.code === 'number' ? error.code : 0, out, err });
    });
  });
}

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'bring-in-'));
  tree = join(folder, 'ferries');
  for (const [path, text] of Object.entries(FERRIES)) {
    await mkdir(dirname(join(tree, path)), { recursive: true });
    await writeFile(join(tree, path), text);
  }
  await mkdir(join(folder, 'registry'));
  for (const name of ['log', 'json', 'mast'])
    await writeFile(join(folder, 'registry', documentFile(name)), JSON.stringify(documentOf(name)));
});
afterEach(() => rm(folder, { recursive: true }));

test('a repository in layouts of its own is recognised, brought in, locked and checked; none of its files changes', async () => {
  const shown = await run('bring-in');
  expect(shown).toMatchObject({ code: 0, err: '' });
  expect(shown.out).toContain('*/build/app.yaml  (yaml, 2 files, sure)');
  expect(shown.out).toContain('"@agreed"  seems to take the shared version');
  expect(shown.out).toContain('versions.json  (json)');
  expect(shown.out).toContain('$.set[*]  3 versions that are installed today');
  expect(shown.out).toContain('a workspace of 4 projects with 7 requirements.');
  expect(shown.out).toContain('Nothing was recognised in 1 file with a structure: docs/pier.json.');
  expect(await readdir(tree)).not.toContain('ledger.toml');

  expect(await run('bring-in', '--write')).toMatchObject({ code: 0, err: '' });
  expect(await readFile(join(tree, 'ledger.toml'), 'utf8')).toContain('name = "ferries"');
  const locked = await run('lock', '--registry', '../registry');
  expect(locked).toMatchObject({ code: 0, err: '' });
  expect(locked.out).toContain('Of the versions that were installed, 2 stay and 1 does not:');
  expect(locked.out).toContain('mast 0.9.0 → 1.0.0  The registry has no release 0.9.0 of it.');
  expect(await run('check')).toMatchObject({ code: 0, err: '' });
  const lock = await readFile(join(tree, 'ledger.lock'), 'utf8');
  expect(lock).toContain('project gate\n  name gate\n');
  expect(lock).toContain('  runtime log "shared" as "^1.0.0" by 1.1.0');
  for (const [path, text] of Object.entries(FERRIES))
    expect(await readFile(join(tree, path), 'utf8')).toBe(text);
});

test('a workspace is not brought in a second time', async () => {
  await writeFile(join(tree, 'ledger.toml'), '');
  expect(await run('bring-in')).toMatchObject({
    code: 2,
    err: expect.stringContaining('ledger.toml is there already') as string,
  });
});

test('a name that is none is told, and nothing is written', async () => {
  expect(await run('bring-in', '--write', '--name', 'our ferries')).toMatchObject({
    code: 2,
    err: expect.stringContaining(
      'ledger.toml:2:8: "our ferries" is no name of a workspace.',
    ) as string,
  });
  expect(await readdir(tree)).not.toContain('ledger.toml');
});

test('where nothing is recognised, that is said', async () => {
  const bare = join(folder, 'bare');
  await mkdir(bare);
  await writeFile(join(bare, 'README.md'), 'words\n');
  expect(await run('bring-in', '--in', bare)).toMatchObject({
    code: 1,
    err: expect.stringContaining('No file was recognised') as string,
  });
});
