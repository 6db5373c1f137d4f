import { execFile } from 'node:child_process';
import { mkdir, mkdtemp, readFile, rm, stat, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { fileURLToPath } from 'node:url';
import { Ajv2020 } from 'ajv/dist/2020.js';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { documentOf } from './test/registry-document.js';

const COMMAND = fileURLToPath(new URL('../../../bin/deep-ledger', import.meta.url));

const FILES = {
  'ledger.toml': 'format = 1\nname = "w"\nprojects = ["*"]\nregistry = "main"\n',
  'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^1.0.0"\n',
  'web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "shared"\n',
};

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
  await writeFile(join(registry, 'log.json'), JSON.stringify(documentOf('log')));
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
    /^in {5}log 1\.1\.0: web now requires log \^1\.0\.0\nledger\.lock written: 1 copy, sum [0-9a-f]{8}\.\n$/,
  );
  expect(await readFile(join(folder, 'ledger.lock'), 'utf8')).toContain('copy log 1.1.0\n');
  expect(await run('check')).toMatchObject({
    code: 0,
    out: expect.stringMatching(/^The lockfile is consistent: 1 copy,/) as string,
  });
  const before = await stat(join(folder, 'ledger.lock'));
  expect(await run('lock', '--registry', registry)).toMatchObject({
    code: 0,
    out: expect.stringMatching(/is consistent already/) as string,
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

test('where ranges of their own are refused, check fails with file and line', async () => {
  await run('lock', '--registry', registry);
  await write({
    'ledger.toml': `${FILES['ledger.toml']}[policy]\nown-ranges = "refused"\n`,
    'kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = "^1.0.0"\n',
  });
  await run('lock', '--registry', registry);
  const checked = await run('check');
  expect(checked.code).toBe(1);
  expect(checked.err).toContain(
    'kit/ledger.project.toml:3: kit writes ^1.0.0 of its own for log, on which ^1.0.0 is agreed; own-ranges refuses that.',
  );
  expect(JSON.parse((await run('check', '--json')).out)).toMatchObject({
    state: 'consistent',
    ownRanges: [{ project: 'kit', package: 'log', file: 'kit/ledger.project.toml', line: 3 }],
  });
});

test('no answer is explained, and nothing is written', async () => {
  await write({ 'ledger.shared.toml': FILES['ledger.shared.toml'].replace('^1.0.0', '^2.0.0') });
  const { code, err } = await run('lock', '--registry', registry);
  expect(code).toBe(1);
  expect(err).toMatch(
    /nothing was written[^]*web\/ledger\.project\.toml:3 requires log the shared version \^2\.0\.0\.\nlog has 2 releases/,
  );
  await expect(stat(join(folder, 'ledger.lock'))).rejects.toThrow('ENOENT');
});

test('a broken lockfile is said to be broken, and replaced only when that is asked for', async () => {
  await write({ 'ledger.lock': 'garbage\n' });
  expect(await run('check')).toMatchObject({
    code: 2,
    err: expect.stringContaining('ledger.lock:1:1: This is no lockfile') as string,
  });
  expect(await run('lock', '--registry', registry)).toMatchObject({ code: 2 });
  expect(await readFile(join(folder, 'ledger.lock'), 'utf8')).toBe('garbage\n');
  expect(await run('lock', '--registry', registry, '--from-nothing')).toMatchObject({
    code: 0,
    err: expect.stringContaining('resolving from nothing') as string,
  });
  expect(await run('check')).toMatchObject({ code: 0 });
});

describe('what cannot be read ends with 2 and says why:', () => {
  test.each<[string, readonly string[], RegExp]>([
    ['an unknown command', ['dance'], /unknown command/],
    ['no registry named', ['lock'], /Nothing says where the registry main is/],
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
    await writeFile(join(registry, 'log.json'), JSON.stringify(documentOf('other')));
    const { code, err } = await run('lock', '--registry', registry);
    expect(code).toBe(2);
    expect(err).toContain('log.json answers with the document of other.');
  });
});

test('help tells the commands and exit codes', async () => {
  const { code, out } = await run('--help');
  expect(code).toBe(0);
  expect(out).toMatch(/lock .*[^]*check .*[^]*Exit codes: 0 the lockfile is consistent/);
});

describe('as JSON', () => {
  const SCHEMAS = fileURLToPath(new URL('../../../docs/schemas', import.meta.url));

  async function valid(schema: string, text: string): Promise<Readonly<Record<string, unknown>>> {
    const validate = new Ajv2020().compile(
      JSON.parse(await readFile(join(SCHEMAS, `${schema}.schema.json`), 'utf8')) as object,
    );
    const value = JSON.parse(text) as Record<string, unknown>;
    expect(validate(value), JSON.stringify(validate.errors)).toBe(true);
    return value;
  }

  test('the whole answer, of a day, without writing', async () => {
    await write({ 'old/ledger.project.toml': 'name = "old"\n[needs]\nlog = "1.0.0"\n' });
    const done = await run(
      ...[
        'lock',
        '--registry',
        registry,
        '--json',
        '--dry-run',
        '--needless',
        '--as-of',
        '2024-06-01',
      ],
    );
    expect(done).toMatchObject({ code: 0, err: '' });
    const answer = await valid('answer', done.out);
    expect(answer).toMatchObject({
      kind: 'answered',
      asOf: '2024-06-01',
      written: false,
      needless: [],
      certificates: { given: [], packages: [] },
      copies: [{ name: 'log', version: '1.0.0' }],
    });
    await expect(readFile(join(folder, 'ledger.lock'))).rejects.toThrow('ENOENT');
    const early = await run('lock', '--registry', registry, '--json', '--as-of', '2023-01-01');
    expect(early.code).toBe(1);
    expect(await valid('answer', early.out)).toMatchObject({ kind: 'unanswered' });
    expect(await run('lock', '--registry', registry, '--as-of', 'soon')).toMatchObject({
      code: 2,
      err: expect.stringContaining('A day is expected') as string,
    });
  });

  test('an explanation with its suggested fixes', async () => {
    await write({
      'ledger.toml': `${FILES['ledger.toml']}[policy]\ncopies = "one"\n`,
      'old/ledger.project.toml': 'name = "old"\n[needs]\nlog = "1.0.0"\n',
      'web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "1.1.0"\n',
    });
    const done = await run('lock', '--registry', registry, '--json');
    expect(done.code).toBe(1);
    const answer = await valid('answer', done.out);
    expect(answer).toMatchObject({
      kind: 'unanswered',
      explanations: [
        {
          together: true,
          requirements: [
            { file: 'old/ledger.project.toml', line: 3 },
            { file: 'web/ledger.project.toml', line: 3 },
          ],
        },
      ],
    });
    const told = await run('lock', '--registry', registry);
    expect(told.err).toContain('- Allow any number of copies of log.');
  });

  test('files that cannot be read', async () => {
    await write({ 'web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "^^1"\n' });
    const done = await run('lock', '--registry', registry, '--json');
    expect(done.code).toBe(2);
    expect(await valid('answer', done.out)).toMatchObject({
      kind: 'unreadable',
      problems: [{ file: 'web/ledger.project.toml', line: 3 }],
    });
  });

  test('refresh lifts what the lockfile has, for the packages that are named', async () => {
    await write({ 'web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "^1.0.0"\n' });
    await run('lock', '--registry', registry);
    const text = await readFile(join(folder, 'ledger.lock'), 'utf8');
    const old = text.replaceAll('1.1.0', '1.0.0');
    await writeFile(join(folder, 'ledger.lock'), old);
    expect((await run('lock', '--registry', registry)).out).toContain('consistent already');
    expect(await run('lock', '--registry', registry, '--refresh', 'nope')).toMatchObject({
      code: 2,
      err: expect.stringContaining('nothing to refresh') as string,
    });
    await run('lock', '--registry', registry, '--refresh', 'log');
    expect(await readFile(join(folder, 'ledger.lock'), 'utf8')).toBe(text);

    await writeFile(join(folder, 'old.lock'), old);
    const compared = await run('compare', 'old.lock', 'ledger.lock', '--json');
    expect(compared.code).toBe(1);
    expect(await valid('comparison', compared.out)).toMatchObject({
      same: false,
      moved: [{ name: 'log', from: '1.0.0', to: '1.1.0' }],
      because: [{ name: 'log', causes: [{ kind: 'release' }] }],
    });
    expect((await run('compare', 'old.lock', 'ledger.lock')).out).toContain(
      'moved  log 1.0.0 -> 1.1.0: another release answers the same demands',
    );
    expect(await run('compare', 'ledger.lock', 'ledger.lock')).toMatchObject({ code: 0 });
  });

  test('a merge of three work trees, and one that conflicts', async () => {
    const tree = async (name: string, needs: string): Promise<void> => {
      await write({
        [`${name}/ledger.toml`]: FILES['ledger.toml'],
        [`${name}/web/ledger.project.toml`]: `name = "web"\n[needs]\n${needs}`,
      });
    };
    await tree('base', 'log = "^1.0.0"\n');
    await tree('ours', 'log = "1.0.0"\n');
    await tree('theirs', 'log = "^1.0.0"\n[needs.dev]\n# none yet\n');
    const sides = ['--base', 'base', '--ours', 'ours', '--theirs', 'theirs', '--out', 'out'];
    const merged = await run('merge', ...sides, '--registry', registry, '--json');
    expect(merged).toMatchObject({ code: 0, err: '' });
    expect(await valid('merge', merged.out)).toMatchObject({ kind: 'merged' });
    const manifest = await readFile(join(folder, 'out/web/ledger.project.toml'), 'utf8');
    expect(manifest).toContain('log = "1.0.0"');
    expect(manifest).toContain('# none yet');
    expect(await run('check', '--in', 'out')).toMatchObject({ code: 0 });

    await tree('theirs', 'log = "1.1.0"\n');
    const before = await readFile(join(folder, 'out/ledger.lock'), 'utf8');
    const conflict = await run('merge', ...sides, '--registry', registry, '--json');
    expect(conflict.code).toBe(1);
    expect(await valid('merge', conflict.out)).toEqual({
      format: 1,
      kind: 'conflicts',
      conflicts: [
        {
          file: 'web/ledger.project.toml',
          path: ['needs', 'log'],
          base: '"^1.0.0"',
          ours: '"1.0.0"',
          theirs: '"1.1.0"',
        },
      ],
    });
    expect((await run('merge', ...sides, '--registry', registry)).err).toContain(
      'web/ledger.project.toml: needs / log\n  base   "^1.0.0"\n  ours   "1.0.0"\n  theirs "1.1.0"',
    );
    expect(await readFile(join(folder, 'out/ledger.lock'), 'utf8')).toBe(before);
  });
});

describe('trace', () => {
  beforeEach(() => run('lock', '--registry', registry));

  test('says by which chains a package comes in, as text and as JSON', async () => {
    expect(await run('trace', 'log')).toMatchObject({
      code: 0,
      out: 'web  shared -> log 1.1.0\n1 of 1 chain to log 1.1.0.\n',
    });
    const { out } = await run('trace', 'log@1.1.0', '--from', 'web', '--json');
    expect(JSON.parse(out)).toEqual({
      format: 1,
      copies: ['log 1.1.0'],
      total: '1',
      chains: [
        [
          { node: 'web', range: null },
          { node: 'log 1.1.0', range: 'shared' },
        ],
      ],
    });
  });

  test('of what is not there ends with 1, from a project that is not there with 2', async () => {
    expect(await run('trace', 'elm')).toMatchObject({
      code: 1,
      err: 'The lockfile has no copy of elm and no project of that name or folder.\n',
    });
    expect(await run('trace', 'log', '--from', 'desk')).toMatchObject({ code: 2 });
    expect(await run('trace', 'log', '--count', 'many')).toMatchObject({ code: 2 });
  });
});

describe('findings', () => {
  test('are listed with their place and counted; an error ends with 1', async () => {
    const { code, out } = await run('findings', '--registry', registry, '--as-of', '2024-06-01');
    expect(code).toBe(1);
    expect(out).toMatch(/^error {4}unlocked {9}ledger\.lock:1: There is no ledger\.lock yet\./);
    expect(out).toMatch(/\d+ findings?: \d+ errors?, \d+ warnings?, \d+ notes?\.\n$/);
    expect(out).not.toContain('\u001b');
  });

  test('of a workspace whose lockfile is consistent; source is read unless that is left out', async () => {
    await run('lock', '--registry', registry);
    await write({ 'web/main.ts': 'export const lifts = 4;\n' });
    const all = await run('findings', '--registry', registry, '--json');
    expect(all.code).toBe(0);
    const kinds = (text: string): string[] =>
      (JSON.parse(text) as { findings: { kind: string }[] }).findings.map(({ kind }) => kind);
    expect(kinds(all.out)).toContain('unused');
    const some = await run('findings', '--registry', registry, '--json', '--no-scan');
    expect(kinds(some.out)).not.toContain('unused');
    const light = await run('findings', '--registry', registry, '--fail-on', 'note');
    expect(light.code).toBe(1);
    await write({ 'web/main.ts': "import 'log';\n" });
    const used = await run('findings', '--registry', registry, '--json');
    expect(kinds(used.out)).not.toContain('unused');
  });

  test('as SARIF name the tool and a rule for each', async () => {
    const { out } = await run('findings', '--registry', registry, '--sarif');
    const log = JSON.parse(out) as {
      version: string;
      runs: { tool: { driver: { name: string } }; results: { ruleId: string }[] }[];
    };
    expect(log.version).toBe('2.1.0');
    expect(log.runs[0]!.tool.driver.name).toBe('Deep Ledger');
    expect(log.runs[0]!.results.map(({ ruleId }) => ruleId)).toContain('unlocked');
  });
});

test('check as JSON says state, sum and reasons', async () => {
  const stale = await run('check', '--json');
  expect(stale.code).toBe(1);
  expect(JSON.parse(stale.out)).toMatchObject({
    format: 1,
    state: 'stale',
    sum: null,
    reasons: [{ code: 'LOCK_MISSING' }],
  });
  await run('lock', '--registry', registry);
  expect(JSON.parse((await run('check', '--json')).out)).toMatchObject({
    state: 'consistent',
    sum: expect.stringMatching(/^[0-9a-f]{64}$/) as string,
    reasons: [],
  });
});

test.each(['bash', 'zsh'])('completion for %s names commands and options', async (shell) => {
  const { code, out } = await run('completion', shell);
  expect(code).toBe(0);
  expect(out).toContain('check');
  expect(out).toMatch(/lock\) words="--in --registry --offline --as-of --refresh --dry-run/);
  expect(out).not.toContain('merge-driver');
});

test('bash completes a command by that script', async () => {
  const { out } = await run('completion', 'bash');
  const script = `${out}\nCOMP_WORDS=(deep-ledger fin); COMP_CWORD=1; _deep_ledger; echo "\${COMPREPLY[*]}"`;
  const completed = await new Promise<string>((resolve) => {
    execFile('bash', ['-c', script], (_, text) => resolve(text.trim()));
  });
  expect(completed).toBe('findings');
});

describe('report', () => {
  test('without a token, or where no server answers, ends with 2 and never says the token', async () => {
    await run('lock', '--registry', registry);
    const to = ['report', '--to', 'http://127.0.0.1:61', '--workspace', 'w'];
    expect(await run(...to)).toMatchObject({
      code: 2,
      err: 'No token. Put one that may report into DEEP_LEDGER_TOKEN.\n',
    });
    process.env['DEEP_LEDGER_TOKEN'] = 'a-secret';
    const { code, out, err } = await run(...to);
    delete process.env['DEEP_LEDGER_TOKEN'];
    expect(code).toBe(2);
    expect(err).toMatch(/^http:\/\/127\.0\.0\.1:61 cannot be reached: /);
    expect(out + err).not.toContain('a-secret');
  });
});
