import { execFile } from 'node:child_process';
import { appendFile, mkdir, rm, symlink, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { documentOf } from './test/registry-document.js';
import { COMMAND, TestClone } from './test/test-clone.js';

const ROOT = 'format = 1\nname = "w"\nprojects = ["*"]\nregistry = "main"\n';
const PROJECT = 'web/ledger.project.toml';
const REQUIRES = 'name = "web"\n[needs]\nlog = "^1.0.0"\nmap = "^1.0.0"\n';

let clone: TestClone;

beforeEach(async () => {
  clone = await TestClone.with(
    new Map(['log', 'map'].map((name) => [`${name}.json`, documentOf(name)])),
  );
  await put({ 'ledger.toml': ROOT, [PROJECT]: REQUIRES });
});
afterEach(() => clone.remove());

const put = (files: Readonly<Record<string, string>>): Promise<void> =>
  clone.write(new Map(Object.entries(files)));
const lock = (...more: readonly string[]) =>
  clone.run('lock', '--registry', clone.registry, ...more);

/** Locks, then lowers what the lockfile answers, so that it shows whether a block was kept. */
async function lowered(): Promise<string> {
  await lock();
  const text = (await clone.read('ledger.lock')).replaceAll('1.1.0', '1.0.0');
  await put({ 'ledger.lock': text });
  return text;
}

describe('lock, of a lockfile', () => {
  test('in a newer format, refuses, unless all of it is to be thrown away', async () => {
    const newer = (await lowered()).replace('format 2', 'format 3');
    await put({ 'ledger.lock': newer });
    const { code, err } = await lock();
    expect(code).toBe(2);
    expect(err).toContain('ledger.lock:2:1: The lockfile has format 3');
    expect(err).toContain('--from-nothing throws it away');
    expect(await clone.read('ledger.lock')).toBe(newer);
    expect(await lock('--from-nothing')).toMatchObject({ code: 0 });
    expect(await clone.read('ledger.lock')).toContain('copy log 1.1.0');
  });

  test('of which one block is misspelt, keeps all the others', async () => {
    const text = await lowered();
    await put({ 'ledger.lock': text.replace('copy map', 'cpoy map') });
    const { code, err } = await lock();
    expect(code).toBe(0);
    expect(err).toMatch(/ledger\.lock:\d+:1: "cpoy map 1\.0\.0" does not belong here/);
    expect(err).toContain('can be read and are kept');
    expect(await clone.read('ledger.lock')).toBe(text);
  });

  test('with the marks of a merge, keeps what both sides have', async () => {
    const text = await lowered();
    const block = /^copy map[^]*?(?=\n\n|$)/m.exec(text)![0];
    const marked = `<<<<<<< ours\n${block}\n=======\n${block}\n>>>>>>> theirs`;
    await put({ 'ledger.lock': text.replace(block, marked) });
    expect(await lock()).toMatchObject({ code: 0 });
    expect(await clone.read('ledger.lock')).toBe(text);
  });

  test('with a byte order mark, says so', async () => {
    await put({ 'ledger.lock': `\uFEFF${await lowered()}` });
    const { code, err } = await lock();
    expect(code).toBe(2);
    expect(err).toContain('ledger.lock:1:1: The file begins with a byte order mark');
  });
});

describe('what is named and is not what is expected ends with 2 and one sentence:', () => {
  const onlyLine = (text: string): string => {
    expect(text.trimEnd().split('\n')).toHaveLength(1);
    return text.trimEnd();
  };

  test('a registry folder that is not there', async () => {
    const { code, err } = await clone.run('lock', '--registry', 'nowhere');
    expect(code).toBe(2);
    expect(onlyLine(err)).toMatch(/nowhere is no folder of registry documents/);
  });

  test('a folder where a lockfile is expected', async () => {
    const { code, err } = await clone.run('compare', 'web', 'web');
    expect(code).toBe(2);
    expect(onlyLine(err)).toBe('web is a folder; a lockfile, a commit or a day is expected.');
  });

  test('a commit that is not there', async () => {
    const compared = await clone.run('compare', 'HEAD~2', 'HEAD');
    expect(compared.code).toBe(2);
    expect(onlyLine(compared.err)).toBe(
      'HEAD~2 is neither a file, a commit nor a day (YYYY-MM-DD) here.',
    );
    const checked = await clone.run('check', '--commit', 'HEAD~2');
    expect(checked.code).toBe(2);
    expect(onlyLine(checked.err)).toBe('There is no commit HEAD~2 here.');
  });

  test('a work tree that is not there', async () => {
    const { code, err } = await clone.run('check', '--in', '/nonexistent');
    expect(code).toBe(2);
    expect(onlyLine(err)).toBe('/nonexistent is not there.');
  });
});

test('compare takes commits as well as files', async () => {
  await lowered();
  await clone.commit('before');
  await lock('--refresh');
  await clone.commit('after');
  const { code, out } = await clone.run('compare', 'HEAD~1', 'HEAD');
  expect(code).toBe(1);
  expect(out).toContain('moved  log 1.0.0 -> 1.1.0');
  expect(await clone.run('compare', 'HEAD', 'ledger.lock')).toMatchObject({ code: 0 });
});

test('a line that is not UTF-8 is named', async () => {
  await appendFile(join(clone.folder, PROJECT), Buffer.from([0x23, 0xff, 0x0a]));
  expect(await clone.run('check')).toMatchObject({
    code: 2,
    err: `${PROJECT}:5: This line is not UTF-8 text. Save the file as UTF-8.\n`,
  });
});

test('a byte order mark is named', async () => {
  await put({ [PROJECT]: `\uFEFF${REQUIRES}` });
  const { code, err } = await clone.run('check');
  expect(code).toBe(2);
  expect(err).toContain(`${PROJECT}:1:1: The file begins with a byte order mark`);
});

test('a project behind a link is told, and a pattern that matches nothing', async () => {
  await symlink('web', join(clone.folder, 'linked'));
  const { code, err } = await lock();
  expect(code).toBe(0);
  expect(err).toMatch(/^linked: This folder is a link[^\n]*not part of the workspace/);
  await put({ 'ledger.toml': ROOT.replace('["*"]', '["*", "desks/*"]') });
  const [locked, checked] = [await lock(), await clone.run('check')];
  const line = /^ledger\.toml:3:\d+: [^\n]*desks\/\*[^\n]*$/m;
  expect(locked.err).toMatch(line);
  expect(line.exec(checked.err)![0]).toBe(line.exec(locked.err)![0]);
});

test('trace of a project of the workspace answers', async () => {
  await put({ 'desk/ledger.project.toml': 'name = "desk"\n[needs]\nweb = "workspace"\n' });
  await lock();
  const { code, out } = await clone.run('trace', 'web');
  expect(code).toBe(0);
  expect(out).toMatch(/^desk {2}workspace -> web\n/);
  expect((await clone.run('trace', 'desk')).out).toBe('Nothing requires desk.\n');
});

test('a reader that has seen enough ends the program without a word', async () => {
  for (let i = 0; i < 300; i++)
    await put({ [`p${i}/ledger.project.toml`]: REQUIRES.replace('web', `p${i}`) });
  const { out, err } = await new Promise<{ out: string; err: string }>((resolve) => {
    const line = `"${COMMAND}" trace log --count 300 | head -n 1; echo "\${PIPESTATUS[0]}"`;
    void lock().then(() =>
      execFile('bash', ['-c', line], { cwd: clone.folder }, (_, out, err) => resolve({ out, err })),
    );
  });
  expect(err).toBe('');
  expect(out).toMatch(/^\S+ {2}\^1\.0\.0 -> log 1\.1\.0\n0\n$/);
});

describe('merge of three work trees', () => {
  const SIDES = ['--base', 'base', '--ours', 'ours', '--theirs', 'theirs', '--out', 'out'];
  const tree = (name: string, range: string): Promise<void> =>
    put({
      [`${name}/ledger.toml`]: ROOT,
      [`${name}/${PROJECT}`]: `name = "web"\n[needs]\nlog = "${range}" # of ${name}\n`,
    });
  beforeEach(async () => {
    await tree('base', '^1.0.0');
    await tree('ours', '1.0.0');
    await tree('theirs', '1.1.0');
  });

  test.each([
    ['ours', '1.0.0'],
    ['theirs', '1.1.0'],
    ['base', '^1.0.0'],
  ])('--take %s decides every conflict, with its comments', async (side, range) => {
    const merged = await clone.run('merge', ...SIDES, '--registry', clone.registry, '--take', side);
    expect(merged).toMatchObject({ code: 0, err: '' });
    expect(await clone.read(`out/${PROJECT}`)).toContain(`log = "${range}" # of ${side}\n`);
    expect(await clone.run('check', '--in', 'out')).toMatchObject({ code: 0 });
  });

  test('without it says how', async () => {
    const { code, err } = await clone.run('merge', ...SIDES, '--registry', clone.registry);
    expect(code).toBe(1);
    expect(err).toContain('--take ours, theirs or base decides all of them so.');
  });
});

test('check with a registry says whether locking again would change anything', async () => {
  await lowered();
  expect(await clone.run('check')).toMatchObject({ code: 0 });
  const check = (): ReturnType<TestClone['run']> =>
    clone.run('check', '--registry', clone.registry, '--as-of', '2025-01-01');
  expect(await check()).toMatchObject({ code: 0 });
  await put({ [PROJECT]: REQUIRES.replace('map = "^1.0.0"\n', '') });
  await lock();
  await rm(join(clone.registry, 'log.json'));
  await mkdir(join(clone.registry, 'unused'));
  await writeFile(
    join(clone.registry, 'log.json'),
    JSON.stringify(documentOf('log')).replaceAll('AAAA==', 'AAAQ=='),
  );
  // The lockfile's integrity stands, so locking again changes nothing; but somebody has to know.
  const { code, err } = await check();
  expect(code).toBe(1);
  expect(err).toMatch(
    /^log 1\.\d\.0: the lockfile has sha512-\S+AAAA==, the registry says sha512-\S+AAAQ==/m,
  );
  const text = await clone.read('ledger.lock');
  await lock('--as-of', '2025-01-01');
  expect(await clone.read('ledger.lock')).toBe(text);
  const taken = await lock('--as-of', '2025-01-01', '--take-integrity', 'log');
  expect(taken).toMatchObject({ code: 0 });
  expect(await clone.read('ledger.lock')).toBe(text.replaceAll(/AAAA==(?=\n)/g, 'AAAQ=='));
  expect(await check()).toMatchObject({ code: 0 });
});
