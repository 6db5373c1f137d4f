import fc from 'fast-check';
import { expect, test } from 'vitest';
import { copyKey, resolve, type Copy, type Resolution } from '../resolve/index.js';
import {
  anyAnswerableRichWorld,
  richFiles,
  richRecords,
  type RichWorld,
} from '../resolve/rich-world.arbitrary.js';
import {
  filesOf,
  recordsOf,
  workspaceOf,
  type RegistrySketch,
} from '../resolve/world.arbitrary.js';
import { globMatcher } from '../text/index.js';
import { installPlan, type InstallOptions, type InstallPlan } from './install-plan.js';

const asOf = '2025-01-01';
const TARGET = 'linux-x64';
const ALL: InstallOptions = { target: TARGET, projects: null, isDev: true };

function lock(world: RichWorld): Resolution | null {
  const workspace = workspaceOf(richFiles(world));
  const outcome = resolve({ workspace, records: richRecords(world), asOf, before: null });
  return outcome.kind === 'answered' ? outcome.resolution : null;
}

function planOf(
  projects: Readonly<Record<string, Readonly<Record<string, string>>>>,
  registry: RegistrySketch,
  options = ALL,
): InstallPlan {
  const workspace = workspaceOf(filesOf(projects));
  const outcome = resolve({ workspace, records: recordsOf(registry), asOf, before: null });
  if (outcome.kind !== 'answered') throw new Error('no answer');
  return installPlan(outcome.resolution, options);
}

const isFor = (patterns: readonly string[]): boolean =>
  patterns.length === 0 || patterns.includes('*') || globMatcher(patterns)(TARGET);

/** What each owner has under a name by the lockfile alone: a copy's key, or a project. */
class Answers {
  private readonly copies: ReadonlyMap<string, Copy>;

  constructor(readonly resolution: Resolution) {
    this.copies = new Map(resolution.copies.map((copy) => [copyKey(copy), copy]));
  }

  copy(key: string): Copy {
    return this.copies.get(key)!;
  }

  of(requirements: Copy['requirements']): ReadonlyMap<string, string> {
    return new Map(
      requirements.flatMap(({ name, when, answer }): [string, string][] => {
        if (!isFor(when)) return [];
        if (answer.kind === 'project') return [[name, `project ${answer.folder}`]];
        if (answer.kind !== 'copy') return [];
        const key = copyKey({ name, version: answer.version });
        return isFor(this.copy(key).targets) ? [[name, key]] : [];
      }),
    );
  }
}

/** By the naive way: along every path of requirements, with all owners above at hand. */
function walk(answers: Answers, plan: InstallPlan): void {
  const byFolder = new Map(plan.copies.map((copy) => [copy.folder, copy]));
  const seen = new Set<string>();
  const visit = (
    folder: string,
    key: string,
    above: readonly ReadonlyMap<string, string>[],
  ): void => {
    const planned = byFolder.get(folder)!;
    expect(copyKey(planned)).toBe(key);
    const copy = answers.copy(key);
    const own = answers.of(copy.requirements);
    const wanted = new Map(own);
    for (const { name } of copy.peers) {
      const owner = above.find((has) => has.has(name));
      if (owner !== undefined && !own.has(name)) wanted.set(name, owner.get(name)!);
    }
    const has = planned.links.map(({ name, to }) => [
      name,
      to.kind === 'project' ? `project ${to.folder}` : copyKey(byFolder.get(to.folder)!),
    ]);
    expect(new Map(has as [string, string][])).toEqual(wanted);
    const state = JSON.stringify([folder, above.map((one) => [...one])]);
    if (seen.has(state) || above.length > 5) return;
    seen.add(state);
    for (const { name, to } of planned.links)
      if (to.kind === 'copy' && own.has(name)) visit(to.folder, own.get(name)!, [own, ...above]);
  };
  for (const { folder, requirements, supplied } of answers.resolution.projects) {
    const own = answers.of(requirements);
    const has = new Map([
      ...supplied.flatMap(({ name, version }): [string, string][] =>
        version === null || !isFor(answers.copy(copyKey({ name, version })).targets)
          ? []
          : [[name, copyKey({ name, version })]],
      ),
      ...own,
    ]);
    const planned = plan.projects.find((one) => one.folder === folder)!;
    expect(planned.links.map(({ name }) => name)).toEqual([...own.keys()].sort());
    for (const { name, to } of planned.links)
      if (to.kind === 'copy') visit(to.folder, own.get(name)!, [has]);
      else expect(`project ${to.folder}`).toBe(own.get(name));
  }
}

test('each copy sees exactly what the lockfile answers it, and as peers what the nearest owner above has', () => {
  fc.assert(
    fc.property(anyAnswerableRichWorld, (world) => {
      const resolution = lock(world);
      fc.pre(resolution !== null);
      walk(new Answers(resolution), installPlan(resolution, ALL));
    }),
  );
});

test('nothing is laid out that nobody reaches', () => {
  fc.assert(
    fc.property(anyAnswerableRichWorld, (world) => {
      const resolution = lock(world);
      fc.pre(resolution !== null);
      const { copies, projects } = installPlan(resolution, ALL);
      const byFolder = new Map(copies.map((copy) => [copy.folder, copy]));
      const open = projects.flatMap(({ links }) => links);
      const reached = new Set<string>();
      for (let link = open.pop(); link !== undefined; link = open.pop()) {
        if (link.to.kind !== 'copy' || reached.has(link.to.folder)) continue;
        reached.add(link.to.folder);
        open.push(...byFolder.get(link.to.folder)!.links);
      }
      expect(copies.map(({ folder }) => folder)).toEqual([...reached].sort());
    }),
  );
});

test('names of folders tell all apart, are names of folders on every system, and do not depend on the order of anything', () => {
  fc.assert(
    fc.property(anyAnswerableRichWorld, (world) => {
      const resolution = lock(world);
      fc.pre(resolution !== null);
      const plan = installPlan(resolution, ALL);
      const folders = plan.copies.map(({ folder }) => folder.toLowerCase());
      expect(new Set(folders).size).toBe(folders.length);
      for (const folder of folders) expect(folder).toMatch(/^[a-z0-9._+-]{1,150}$/);
      const turned: Resolution = {
        projects: [...resolution.projects].reverse(),
        copies: [...resolution.copies].reverse(),
      };
      expect(installPlan(turned, ALL)).toEqual(plan);
    }),
  );
});

const HOSTS: RegistrySketch = {
  host: { '1.0.0': {}, '2.0.0': {} },
  plug: { '1.0.0': { peers: { host: { range: '>=1.0.0' } } } },
  kit: { '1.0.0': { needs: { plug: '^1.0.0' } } },
  log: { '1.0.0': {}, '1.1.0': {} },
};

test('a copy whose peer is met differently in two projects is laid out twice, also below a copy that has none itself', () => {
  const plan = planOf(
    {
      a: { host: '^1.0.0', kit: '*' },
      b: { host: '^2.0.0', kit: '*' },
      c: { host: '^2.0.0', kit: '*' },
    },
    HOSTS,
  );
  const versions = plan.copies.map(({ name, version }) => `${name} ${version}`).sort();
  expect(versions).toEqual([
    'host 1.0.0',
    'host 2.0.0',
    'kit 1.0.0',
    'kit 1.0.0',
    'plug 1.0.0',
    'plug 1.0.0',
  ]);
  const kitOf = (folder: string) =>
    plan.projects.find((one) => one.folder === folder)!.links.find(({ name }) => name === 'kit')!.to
      .folder;
  expect(kitOf('b')).toBe(kitOf('c'));
  expect(kitOf('a')).not.toBe(kitOf('b'));
});

test('a change of the lockfile moves only the folders from which it can be reached', () => {
  const before = planOf(
    { a: { log: '1.0.0', host: '^1.0.0' }, b: { kit: '*', host: '^1.0.0' } },
    HOSTS,
  );
  const after = planOf(
    { a: { log: '1.1.0', host: '^1.0.0' }, b: { kit: '*', host: '^1.0.0' } },
    HOSTS,
  );
  const known = new Set(before.copies.map(({ folder }) => folder));
  expect(after.copies.filter(({ folder }) => !known.has(folder)).map(({ name }) => name)).toEqual([
    'log',
  ]);
});

test('copies that require each other in a cycle have folders of their own', () => {
  const ring: RegistrySketch = {
    east: { '1.0.0': { needs: { west: '*' } } },
    west: { '1.0.0': { needs: { east: '*', log: '*' } } },
    log: { '1.0.0': {} },
  };
  const { copies } = planOf({ a: { east: '*' } }, ring);
  expect(copies.map(({ name, links }) => [name, links.map((link) => link.name)])).toEqual([
    ['east', ['west']],
    ['log', []],
    ['west', ['east', 'log']],
  ]);
});

test('some projects alone are laid out with those that they require; without development what only that needs is left away', () => {
  const files = filesOf(
    { a: { b: 'workspace' }, b: { log: '1.0.0' }, c: { host: '*' } },
    {
      'd/ledger.project.toml': 'name = "d"\n[needs]\nlog = "1.1.0"\n[needs.dev]\nkit = "*"\n',
    },
  );
  const workspace = workspaceOf(files);
  const outcome = resolve({ workspace, records: recordsOf(HOSTS), asOf, before: null });
  if (outcome.kind !== 'answered') throw new Error('no answer');
  const some = installPlan(outcome.resolution, { ...ALL, projects: ['a'] });
  expect(some.projects.map(({ folder }) => folder)).toEqual(['a', 'b']);
  expect(some.projects[0]!.links).toEqual([{ name: 'b', to: { kind: 'project', folder: 'b' } }]);
  expect(some.copies.map(({ name, version }) => `${name} ${version}`)).toEqual(['log 1.0.0']);
  const shipped = installPlan(outcome.resolution, { ...ALL, projects: ['d'], isDev: false });
  expect(shipped.copies.map(({ name, version }) => `${name} ${version}`)).toEqual(['log 1.1.0']);
});

test('what is for another target is left away, and what is only optional can be done without', () => {
  const registry: RegistrySketch = {
    app: { '1.0.0': { optional: { mac: '*', lin: '*' }, needs: { log: '*' } } },
    mac: { '1.0.0': { targets: ['darwin-*'] } },
    lin: { '1.0.0': { targets: ['linux-*'], needs: { host: '*' } } },
    log: { '1.0.0': {} },
    host: { '1.0.0': {} },
  };
  const { copies } = planOf({ a: { app: '*' } }, registry);
  expect(copies.map(({ name, isOptional }) => [name, isOptional])).toEqual([
    ['app', false],
    ['host', true],
    ['lin', true],
    ['log', false],
  ]);
});
