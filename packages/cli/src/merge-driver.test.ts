import { chmod, readFile } from 'node:fs/promises';
import { join } from 'node:path';
import { afterEach, describe, expect, inject, test } from 'vitest';
import {
  changeOne,
  copyOf,
  Dice,
  documentsOf,
  manifestsOf,
  textsOf,
  type Manifests,
} from './test/random-branches.js';
import { TestClone, type Result } from './test/test-clone.js';

/** A pair takes seconds of git, so there are fewer than there are cases of other random tests. */
const PAIRS = Math.ceil(inject('runs') / 150);

let clone: TestClone | null = null;
afterEach(async () => {
  await clone?.remove();
  clone = null;
});

/** Commits a branch with its lockfile. @returns false where nothing answers it */
async function branch(made: TestClone, name: string, manifests: Manifests): Promise<boolean> {
  await made.git('checkout', '--quiet', '-B', name, 'main');
  await made.write(textsOf(manifests));
  if (!(await made.lock())) return false;
  await made.commit(name);
  return true;
}

async function started(dice: Dice, manifests: Manifests): Promise<TestClone | null> {
  const made = await TestClone.with(documentsOf(dice));
  clone = made;
  await made.write(textsOf(manifests));
  if (!(await made.lock())) return null;
  await made.run('setup-git', '--registry', made.registry, '--no-hooks');
  await made.commit('start');
  return made;
}

/** Merges one branch into the other. */
async function merge(made: TestClone, ours: string, theirs: string): Promise<Result> {
  await made.git('checkout', '--quiet', '-B', 'merged', ours);
  return made.tryGit('merge', '--no-edit', theirs);
}

async function texts(made: TestClone): Promise<string> {
  const listed = await made.git('ls-files');
  const files = [...new Set(listed.split('\n'))].filter((path) => path !== '');
  const all = await Promise.all(
    files.map((path) => readFile(join(made.folder, path), 'utf8').catch(() => '')),
  );
  return all.join('\n');
}

test(`${PAIRS} random pairs of branches merge alike in both directions, or say why not`, async () => {
  const dice = new Dice(inject('seed'));
  for (let pair = 0; pair < PAIRS;) {
    await clone?.remove();
    const base = manifestsOf(dice);
    const made = await started(dice, base);
    if (made === null) continue;
    const [ours, theirs] = [copyOf(base), copyOf(base)];
    for (let i = dice.below(4); i >= 0; i--) changeOne(ours, dice);
    for (let i = dice.below(4); i >= 0; i--) changeOne(theirs, dice);
    if (!(await branch(made, 'one', ours)) || !(await branch(made, 'other', theirs))) continue;
    pair += 1;
    const locks: string[] = [];
    for (const [into, from] of [
      ['one', 'other'],
      ['other', 'one'],
    ] as const) {
      const { code, out, err } = await merge(made, into, from);
      expect(await texts(made), `pair ${pair}`).not.toMatch(/^(<{7}|={7}|>{7}|\|{7})/m);
      if (code === 0) {
        const check = await made.run('check', '--commit', 'HEAD');
        expect(check, `pair ${pair}: ${out}${err}`).toMatchObject({ code: 0, err: '' });
        locks.push(await made.read('ledger.lock'));
      } else {
        expect(out + err).toMatch(/Both sides changed these|nothing answers the merged manifests/);
        await made.git('merge', '--abort');
      }
    }
    expect(locks.length, `pair ${pair}`).not.toBe(1);
    expect(locks[1], `pair ${pair}`).toBe(locks[0]);
  }
});

describe('with branches that both changed shared versions', () => {
  const needs = (...lines: readonly string[]): Map<string, string> =>
    new Map(lines.map((line) => line.split(' ') as [string, string]));
  const manifests = (elm: string, fir: string): Manifests => ({
    shared: needs(`elm ${elm}`, `fir ${fir}`),
    projects: new Map([
      ['desk', needs('elm shared', 'fir shared')],
      ['gate', needs('elm shared')],
    ]),
  });

  async function two(one: Manifests, other: Manifests): Promise<TestClone> {
    const dice = new Dice(7);
    const made = (await started(dice, manifests('^1.0.0', '^1.0.0')))!;
    await branch(made, 'one', one);
    await branch(made, 'other', other);
    return made;
  }

  const bothWays = [
    ['a cherry-pick', ['cherry-pick', 'other']],
    ['a rebase', ['rebase', '--onto', 'one', 'main', 'other']],
  ] as const;
  test.each(bothWays)('%s leaves a consistent lockfile', async (_, args) => {
    const made = await two(manifests('^2.0.0', '^1.0.0'), manifests('^1.0.0', '^2.0.0'));
    await made.git('checkout', '--quiet', 'one');
    expect(await made.tryGit(...args)).toMatchObject({ code: 0 });
    expect(await made.run('check', '--commit', 'HEAD')).toMatchObject({ code: 0 });
    expect(await made.read('ledger.shared.toml')).toContain('elm = "^2.0.0"\nfir = "^2.0.0"');
  });

  test('a commit that is taken back by git leaves a consistent lockfile', async () => {
    const made = await two(manifests('^2.0.0', '^1.0.0'), manifests('^1.0.0', '^2.0.0'));
    await made.git('checkout', '--quiet', 'one');
    await made.git('merge', '--no-edit', '--quiet', 'other');
    expect(await made.tryGit('revert', '--no-edit', 'other')).toMatchObject({ code: 0 });
    expect(await made.run('check', '--commit', 'HEAD')).toMatchObject({ code: 0 });
    expect(await made.read('ledger.shared.toml')).toContain('elm = "^2.0.0"\nfir = "^1.0.0"');
  });

  test('a conflict is stated with its values, settled by the mergetool, and the lockfile follows', async () => {
    const made = await two(manifests('^2.0.0', '^2.0.0'), manifests('^3.0.0', '^1.0.0'));
    const { code, err, out } = await merge(made, 'one', 'other');
    expect(code).toBe(1);
    expect(out + err).toContain(
      'ledger.shared.toml: shared / elm\n  base   "^1.0.0"\n  ours   "^2.0.0"\n  theirs "^3.0.0"',
    );
    expect(await made.read('ledger.shared.toml')).toContain('elm = "^2.0.0"\nfir = "^2.0.0"');
    expect(await made.run('check')).toMatchObject({ code: 0 });
    const cmd = (await made.git('config', 'mergetool.deep-ledger.cmd')).trim();
    await made.git('config', 'mergetool.deep-ledger.cmd', `${cmd} --take theirs`);
    await made.git('mergetool', '--no-prompt', '--tool=deep-ledger');
    expect(await made.read('ledger.shared.toml')).toContain('elm = "^3.0.0"\nfir = "^2.0.0"');
    expect(await made.read('ledger.lock')).toContain('copy elm 3.0.0');
    await made.git('commit', '--quiet', '--no-edit');
    expect(await made.run('check', '--commit', 'HEAD')).toMatchObject({ code: 0 });
  });

  test('without a terminal and without --take the mergetool states the conflict and decides nothing', async () => {
    const made = await two(manifests('^2.0.0', '^1.0.0'), manifests('^3.0.0', '^1.0.0'));
    await merge(made, 'one', 'other');
    const { code, err } = await made.tryGit('mergetool', '--no-prompt', '--tool=deep-ledger');
    expect(code).toBe(1);
    expect(err).toMatch(/theirs "\^3\.0\.0"[^]*Nobody can be asked here/);
    expect(await made.read('ledger.shared.toml')).toContain('elm = "^2.0.0"');
  });

  test('a registry that does not answer leaves ours, without marks, and says so', async () => {
    const made = await two(manifests('^2.0.0', '^1.0.0'), manifests('^1.0.0', '^2.0.0'));
    await made.run('setup-git', '--registry', 'http://127.0.0.1:61', '--no-hooks');
    const { code, out, err } = await merge(made, 'one', 'other');
    expect(code).toBe(1);
    expect(out + err).toContain('cannot be reached');
    expect(await texts(made)).not.toContain('<<<<<<<');
  });
});

describe('checks before a commit and a push', () => {
  async function withHooks(): Promise<TestClone> {
    const made = (await started(new Dice(7), manifestsOf(new Dice(7))))!;
    expect(await made.run('setup-git', '--registry', made.registry)).toMatchObject({ code: 0 });
    await made.commit('hooks');
    return made;
  }

  test('a commit whose lockfile is stale is refused, with the requirement and its line', async () => {
    const made = await withHooks();
    const manifest = 'name = "desk"\n[needs]\nyew = "^3.0.0"\n';
    await made.write(new Map([['desk/ledger.project.toml', manifest]]));
    await made.git('add', '--all');
    const { code, err } = await made.tryGit('commit', '-m', 'stale');
    expect(code).not.toBe(0);
    expect(err).toMatch(/desk\/ledger\.project\.toml:3:1: desk requires yew "\^3\.0\.0"/);
    expect(err).toContain('The lockfile of what is staged is stale.\nRun deep-ledger lock');
    await made.run('lock', '--registry', made.registry);
    // What is staged counts, not what stands beside it.
    expect((await made.tryGit('commit', '-m', 'still stale')).code).not.toBe(0);
    await made.git('add', '--all');
    expect(await made.tryGit('commit', '-m', 'true')).toMatchObject({ code: 0 });
  });

  test('a push of a stale commit is refused; branches without a workspace pass', async () => {
    const made = await withHooks();
    await made.git('init', '--quiet', '--bare', join(made.folder, '.git', 'away'));
    await made.git('remote', 'add', 'away', join(made.folder, '.git', 'away'));
    expect(await made.tryGit('push', 'away', 'main')).toMatchObject({ code: 0 });
    await made.write(new Map([['desk/ledger.project.toml', 'name = "desk"\n[needs]\n']]));
    await made.commit('stale');
    const { code, err } = await made.tryGit('push', 'away', 'main');
    expect(code).not.toBe(0);
    expect(err).toMatch(/The lockfile of commit [0-9a-f]{8} is stale/);
    await made.git('checkout', '--quiet', '--orphan', 'site');
    await made.git('rm', '-rfq', '--cached', '.');
    await made.git('commit', '--quiet', '--no-verify', '--allow-empty', '-m', 'site');
    expect(await made.tryGit('push', 'away', 'site')).toMatchObject({ code: 0 });
    expect(await made.tryGit('push', 'away', ':site')).toMatchObject({ code: 0 });
  });

  test('a hook that was there keeps working, before the check and with what git tells it', async () => {
    const made = (await started(new Dice(7), manifestsOf(new Dice(7))))!;
    const away = join(made.folder, '.git', 'away');
    await made.git('init', '--quiet', '--bare', away);
    await made.git('remote', 'add', 'away', away);
    const hook = '#!/bin/sh\ncat >>"$(git rev-parse --git-dir)/told"\n[ "$1" != refused ]\n';
    const file = join(made.folder, '.git/hooks/pre-push');
    await made.write(new Map([['.git/hooks/pre-push', hook]]));
    await chmod(file, 0o755);
    for (const say of [
      /wrote {2}hook pre-push; the one that was there runs first/,
      /wrote {2}hook pre-push\n/,
    ])
      expect(await made.run('setup-git', '--registry', made.registry)).toMatchObject({
        code: 0,
        out: expect.stringMatching(say) as string,
      });
    expect(await made.read('.git/hooks/pre-push.before-deep-ledger')).toBe(hook);
    await made.commit('hooks');
    expect(await made.tryGit('push', 'away', 'main')).toMatchObject({ code: 0 });
    expect(await made.read('.git/told')).toMatch(/^refs\/heads\/main [0-9a-f]{40} /);
    await made.write(new Map([['desk/ledger.project.toml', 'name = "desk"\n[needs]\n']]));
    await made.commit('stale');
    const { code, err } = await made.tryGit('push', 'away', 'main');
    expect(code).not.toBe(0);
    expect(err).toMatch(/is stale[^]*Run deep-ledger lock --registry PLACE, add ledger\.lock/);
    await made.git('remote', 'rename', 'away', 'refused');
    await made.run('lock', '--registry', made.registry);
    await made.commit('consistent');
    expect((await made.tryGit('push', 'refused', 'main')).code).not.toBe(0);
  });
});
