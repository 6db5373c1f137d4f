import { execFile, spawn } from 'node:child_process';
import { mkdir, mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { documentFile } from '@deep-ledger/registry-client';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';

const COMMAND = fileURLToPath(new URL('../../../bin/deep-ledger', import.meta.url));

const FILES = {
  'ledger.toml': 'format = 1\nname = "w"\nprojects = ["*"]\nregistry = "main"\n',
  'ledger.shared.toml': 'format = 1\n[shared]\nlog = "~1.0.0"   # agreed in May\n',
  'web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "shared"\nmast = "^1.0.0"\n',
  'kit/ledger.project.toml': 'name = "kit"\n[needs]\njson = "^1.0.0"\n',
};

type Releases = Readonly<Record<string, Readonly<Record<string, string>>>>;
const BEFORE: Readonly<Record<string, Releases>> = {
  log: { '1.0.0': {} },
  json: { '1.0.0': {} },
  mast: { '1.0.0': { json: '^1.0.0' } },
};
const NOW: Readonly<Record<string, Releases>> = {
  log: { '1.0.0': {}, '1.0.1': {}, '1.1.0': { json: '^2.0.0' } },
  json: { '1.0.0': {}, '1.0.4': {}, '2.0.0': {} },
  mast: { '1.0.0': { json: '^1.0.0' }, '1.2.0': { json: '^1.0.0' } },
  sail: { '0.1.0': {}, '1.0.0': { json: '^1.0.0' }, '2.0.0-rc.1': {} },
};

let folder: string;
let registry: string;

interface Result {
  readonly code: number;
  readonly out: string;
  readonly err: string;
}

function run(...args: readonly string[]): Promise<Result> {
  return new Promise((resolve) => {
    execFile(COMMAND, args, { cwd: folder }, (error, out, err) => {
      resolve({ code: typeof error?.code === 'number' ? error.code : 0, out, err });
    });
  });
}

async function publish(packages: Readonly<Record<string, Releases>>): Promise<void> {
  for (const [name, releases] of Object.entries(packages)) {
    const document = {
      name,
      releases: Object.entries(releases).map(([version, needs]) => ({
        version,
        published: '2024-01-01T00:00:00Z',
        needs,
        archive: {
          path: `/a/${name}/${version}`,
          integrity: `sha512-${'A'.repeat(86)}==`,
          bytes: 9,
        },
      })),
    };
    await writeFile(join(registry, documentFile(name)), JSON.stringify(document));
  }
}

async function texts(): Promise<Readonly<Record<string, string>>> {
  const paths = [...Object.keys(FILES), 'ledger.lock'];
  const all = await Promise.all(
    paths.map(async (path) => [path, await readFile(join(folder, path), 'utf8')] as const),
  );
  return Object.fromEntries(all);
}

beforeEach(async () => {
  folder = await mkdtemp(join(tmpdir(), 'upgrades-'));
  registry = join(folder, '.registry');
  for (const [path, text] of Object.entries(FILES)) {
    await mkdir(dirname(join(folder, path)), { recursive: true });
    await writeFile(join(folder, path), text);
  }
  await mkdir(registry);
  await publish(BEFORE);
  expect(await run('lock', '--registry', registry)).toMatchObject({ code: 0 });
  await publish(NOW);
});
afterEach(() => rm(folder, { recursive: true }));

describe('newer', () => {
  test('lists the newest of each step, and can fail a build', async () => {
    const told = await run('newer', '--registry', registry);
    expect(told).toMatchObject({ code: 0, err: '' });
    expect(told.out).toBe(
      `package  in use  patch  minor  major
json     1.0.0   1.0.4  -      2.0.0
log      1.0.0   1.0.1  1.1.0  -
mast     1.0.0   -      1.2.0  -
3 packages have something newer; 3 can be tried.
`,
    );
    const patches = ['newer', 'mast', '--registry', registry, '--fail-on'];
    expect(await run(...patches, 'patch')).toMatchObject({ code: 0 });
    expect(await run(...patches, 'minor')).toMatchObject({ code: 1 });
    const json = await run('newer', 'log', '--registry', registry, '--json');
    expect(JSON.parse(json.out)).toMatchObject({
      packages: [{ name: 'log', from: '1.0.0', offers: [{ kind: 'patch' }, { kind: 'minor' }] }],
    });
  });

  test('says what it does not know, and that a lockfile is missing', async () => {
    const unknown = await run('newer', 'moss', '--registry', registry);
    expect(unknown.err).toContain('The lockfile has no copy of moss.');
    await rm(join(folder, 'ledger.lock'));
    expect(await run('newer', '--registry', registry)).toMatchObject({
      code: 2,
      err: expect.stringContaining('Run deep-ledger lock first') as string,
    });
  });
});

describe('upgrade', () => {
  test('takes the most that can be taken together, and says what is left out and why', async () => {
    const done = await run('upgrade', '--registry', registry);
    expect(done.code).toBe(0);
    expect(done.err).toBe(
      'left out: log 1.1.0 (1.0.1 is taken): json would stand there as 1.0.4 and 2.0.0: kit requires ^1.0.0, as 1 more do.\n',
    );
    expect(done.out).toContain('moved  json 1.0.0 -> 1.0.4');
    const after = await texts();
    expect(after['ledger.lock']).toContain('copy mast 1.2.0');
    expect(after['ledger.lock']).toContain('copy log 1.0.1');
    // Only the lockfile had to change.
    for (const [path, text] of Object.entries(FILES)) expect(after[path]).toBe(text);
    expect(await run('check', '--registry', registry)).toMatchObject({ code: 0 });
    expect((await run('upgrade', '--registry', registry, '--take', 'patch')).out).toBe(
      'Nothing newer can be taken.\n',
    );
  });

  test('of what is named takes all or nothing; a dry run writes nothing', async () => {
    const before = await texts();
    const dry = await run('upgrade', 'mast', 'json@^1.0.0', '--registry', registry, '--dry-run');
    expect(dry).toMatchObject({ code: 0, err: '' });
    expect(dry.out).toContain('mast: upgraded 1.0.0 -> 1.2.0\njson: upgraded 1.0.0 -> 1.0.4\n');
    expect(dry.out).toContain('would be written');
    expect(await texts()).toEqual(before);
    const wrong = await run('upgrade', 'mast', 'json@^3.0.0', '--registry', registry);
    expect(wrong).toMatchObject({ code: 2, out: '' });
    expect(wrong.err).toContain('No newer release of json that can be taken lies in ^3.0.0.');
    expect(await texts()).toEqual(before);
    expect(await run('upgrade', 'log', '--registry', registry)).toMatchObject({ code: 0 });
    const after = await texts();
    expect(after['ledger.shared.toml']).toContain('log = "~1.1.0"   # agreed in May');
  });
});

describe('add and remove', () => {
  test('add to several projects as a shared version, and remove again: the same bytes', async () => {
    const before = await texts();
    const added = await run(
      'add',
      'sail',
      '--to',
      'web',
      'kit',
      '--shared',
      '--registry',
      registry,
    );
    expect(added).toMatchObject({ code: 0, err: '' });
    const between = await texts();
    expect(between['ledger.shared.toml']).toContain('sail = "^1.0.0"');
    expect(between['web/ledger.project.toml']).toContain('sail = "shared"');
    expect(between['ledger.lock']).toContain('copy sail 1.0.0');
    const removed = await run('remove', 'sail', '--from', 'web', 'kit', '--registry', registry);
    expect(removed).toMatchObject({ code: 0, err: '' });
    const after = await texts();
    expect(after['ledger.lock']).toBe(before['ledger.lock']);
    expect(after['web/ledger.project.toml']).toBe(before['web/ledger.project.toml']);
  });

  test('in any order lead to the same files', async () => {
    const steps = [
      ['add', 'sail@^1.0.0', '--to', 'web'],
      ['add', 'mast', '--to', 'kit'],
      ['upgrade', 'json@^1.0.0'],
    ];
    const outcomes: Readonly<Record<string, string>>[] = [];
    const start = await texts();
    for (const order of [
      [0, 1, 2],
      [2, 1, 0],
      [1, 2, 0],
    ]) {
      for (const [path, text] of Object.entries(start)) await writeFile(join(folder, path), text);
      for (const i of order)
        expect(await run(...steps[i]!, '--registry', registry)).toMatchObject({ code: 0 });
      outcomes.push(await texts());
    }
    expect(outcomes[1]).toEqual(outcomes[0]);
    expect(outcomes[2]).toEqual(outcomes[0]);
  });

  test.each<[string, readonly string[], RegExp]>([
    ['an unknown project', ['add', 'sail', '--to', 'wev'], /no project wev\. Did you mean web\?/],
    ['an unknown package', ['add', 'sale', '--to', 'web'], /no package sale/],
    ['a range that is none', ['add', 'sail@lately', '--to', 'web'], /"lately"/],
    ['what is there already', ['add', 'mast', '--to', 'web'], /web requires mast already/],
    ['what is not there', ['remove', 'json', '--from', 'web'], /json/],
  ])('%s is said, and nothing is written', async (_, args, message) => {
    const before = await texts();
    const refused = await run(...args, '--registry', registry);
    expect(refused.code).not.toBe(0);
    expect(refused.err).toMatch(message);
    expect(await texts()).toEqual(before);
  });

  test('what nothing answers is explained with suggested fixes, and nothing is written', async () => {
    const before = await texts();
    const refused = await run('add', 'sail@^3.0.0', '--to', 'web', '--registry', registry);
    expect(refused).toMatchObject({ code: 1, out: '' });
    expect(refused.err).toMatch(/nothing was written[^]*sail has[^]*\n- /);
    expect(await texts()).toEqual(before);
  });
});

describe('upgrade --pick', () => {
  const command = () => `${COMMAND} upgrade --pick --registry ${registry}`;

  /** Runs a command in a terminal of its own, and presses keys once it shows a text. */
  function inTerminal(line: string, ...steps: readonly (readonly [sees: string, keys: string])[]) {
    return new Promise<{ code: number; out: string }>((resolve) => {
      const terminal = spawn('script', ['-qefc', line, '/dev/null'], {
        cwd: folder,
        env: { ...process.env, TERM: 'xterm', NO_COLOR: '1', COLUMNS: '120' },
      });
      let out = '';
      let done = 0;
      terminal.stdout.on('data', (chunk: Buffer) => {
        out += chunk.toString();
        const step = steps[done];
        if (step === undefined || !out.includes(step[0])) return;
        done++;
        terminal.stdin.write(step[1]);
      });
      terminal.on('close', (code) => resolve({ code: code ?? 1, out }));
    });
  }

  test('a list on the terminal: arrows move, space leaves out, enter takes the rest', async () => {
    // json, log, mast: leave json out.
    const done = await inTerminal(command(), ['Which upgrades to take', ' '], ['◯ json', '\r']);
    expect(done).toMatchObject({ code: 0 });
    expect(done.out).toContain('log   1.0.0 → 1.0.1  patch');
    const lock = (await texts())['ledger.lock']!;
    expect(lock).toContain('copy json 1.0.0\n');
    expect(lock).toContain('copy log 1.0.1\n');
    expect(lock).toContain('copy mast 1.2.0\n');
  });

  test('whoever goes away changes nothing', async () => {
    const before = await texts();
    const done = await inTerminal(command(), ['Which upgrades to take', '\u0003']);
    expect(done.out).toContain('Nothing was chosen, and nothing was written.');
    expect(await texts()).toEqual(before);
  });

  test('without a terminal it says so', async () => {
    const before = await texts();
    const refused = await run('upgrade', '--pick', '--registry', registry);
    expect(refused).toMatchObject({ code: 2 });
    expect(refused.err).toContain('needs a terminal');
    expect(await texts()).toEqual(before);
  });
});

describe('terms', () => {
  beforeEach(async () => {
    const file = join(registry, documentFile('sail'));
    const document = JSON.parse(await readFile(file, 'utf8')) as { releases: object[] };
    const terms = { id: 'sails-1', title: 'Terms for sails', url: 'https://sails.example/terms' };
    document.releases = document.releases.map((release) => ({ ...release, terms }));
    await writeFile(file, JSON.stringify(document));
    await git('init', '-q');
    await git('config', 'user.name', 'Ada Fenn');
  });

  function git(...args: readonly string[]): Promise<void> {
    return new Promise((resolve, reject) => {
      execFile('git', args, { cwd: folder }, (error) => (error ? reject(error) : resolve()));
    });
  }

  test('what is under terms is added once they are accepted by name, and the acceptance stands in the shared file', async () => {
    const before = await texts();
    const add = ['add', 'sail', '--to', 'web', '--registry', registry];
    const refused = await run(...add);
    expect(refused).toMatchObject({ code: 1, out: '' });
    expect(refused.err).toBe(
      'sail 1.0.0: under "Terms for sails" (https://sails.example/terms), which nobody has accepted. Read them; to accept them for the team add --accept sails-1.\nNothing was written.\n',
    );
    expect(await texts()).toEqual(before);
    expect(await run(...add, '--accept', 'sails-1')).toMatchObject({ code: 0, err: '' });
    expect((await texts())['ledger.shared.toml']).toMatch(
      /\[\[accepted\]\]\nid = "sails-1"\ntitle = "Terms for sails"\nurl = "https:\/\/sails.example\/terms"\nby = "Ada Fenn"\non = \d{4}-\d\d-\d\d\n/,
    );
  });
});

describe('search and show', () => {
  test('find packages by words and tell of one', async () => {
    const found = await run('search', 'MAST', '--registry', registry);
    expect(found).toMatchObject({ code: 0, err: '' });
    expect(found.out).toMatch(
      /^package +newest +of +licence +what it is\nmast +1\.2\.0 +2024-01-01/,
    );
    expect(await run('search', 'nothing', '--registry', registry)).toMatchObject({
      code: 1,
      out: 'No package has these words.\n',
    });
    const shown = await run('show', 'log', '--registry', registry);
    expect(shown).toMatchObject({ code: 0, err: '' });
    expect(shown.out).toContain('3 releases; required by web.');
    expect(shown.out).toMatch(/1\.0\.0 +2024-01-01 +- +in use\n/);
    expect(await run('show', 'lag', '--registry', registry)).toMatchObject({
      code: 1,
      err: 'The registry has no package lag. Did you mean log?\n',
    });
  });

  test('a registry that is down is said', async () => {
    expect(await run('search', 'log', '--registry', 'http://127.0.0.1:61')).toMatchObject({
      code: 2,
      err: expect.stringContaining('cannot be reached') as string,
    });
  });
});

test('a workspace is begun from nothing, a project in it, and a package added', async () => {
  const fresh = join(folder, 'fresh');
  await mkdir(fresh);
  const there = ['--in', fresh];
  expect(await run('init', ...there, '--projects', 'apps/*')).toMatchObject({ code: 0, err: '' });
  expect(await run('init', ...there)).toMatchObject({ code: 2 });
  expect(await run('init', ...there, '--project', 'apps/kiosk')).toMatchObject({
    code: 0,
    err: '',
  });
  const odd = await run('init', ...there, '--project', 'tools/odd');
  expect(odd.err).toContain('No pattern under projects in ledger.toml takes this folder yet.');
  expect(await run('init', ...there, '--project', 'apps/x y')).toMatchObject({ code: 2 });
  const added = await run('add', 'sail', '--to', 'kiosk', ...there, '--registry', registry);
  expect(added).toMatchObject({ code: 0, err: '' });
  expect(await readFile(join(fresh, 'apps/kiosk/ledger.project.toml'), 'utf8')).toContain(
    'sail = "^1.0.0"',
  );
  expect(await run('check', ...there)).toMatchObject({ code: 0 });
});
