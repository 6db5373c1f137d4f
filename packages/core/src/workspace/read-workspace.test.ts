import { describe, expect, test } from 'vitest';
import { placeProblem } from './place-problem.js';
import { readWorkspace } from './read-workspace.js';
import { standingOf } from './standing.js';
import { isBlocking } from './workspace.js';

const ROOT = `format = 1
name = "w"
projects = ["apps/*", "libs/*", "!apps/attic"]
registry = "main"
[platform]
targets = ["linux-x64", "linux-arm64", "darwin-arm64"]
`;

function project(name: string, needs = ''): string {
  return `name = "${name}"\n[needs]\n${needs}`;
}

function read(files: Readonly<Record<string, string>>) {
  const all = new Map(Object.entries({ 'ledger.toml': ROOT, ...files }));
  const { workspace, problems } = readWorkspace(all);
  const placed = problems.map((problem) => {
    const { code, place } = placeProblem(all, problem);
    return `${code} ${place.file}:${place.line}:${place.column}`;
  });
  return { workspace, placed, isBlocked: problems.some(isBlocking) };
}

test('projects are those the patterns name, without those they take back', () => {
  const { workspace, placed } = read({
    'apps/a/ledger.project.toml': project('a'),
    'apps/attic/ledger.project.toml': project('attic'),
    'libs/b/ledger.project.toml': project('b'),
    'tools/c/ledger.project.toml': project('c'),
    'apps/a/deep/ledger.project.toml': project('deep'),
  });
  expect(workspace!.projects.map(({ folder }) => folder)).toEqual(['apps/a', 'libs/b']);
  expect(placed).toEqual([]);
});

test('requirements get their meaning from the shared file, the workspace and the targets', () => {
  const { workspace, placed } = read({
    'ledger.shared.toml':
      'format = 1\n[shared]\nlog = "^3.0.0"\n[lockstep.set]\nrange = "4.0.0"\npackages = ["grid"]\n[everywhere]\nlint = { range = "^1.0.0", kind = "dev", except = ["libs/b"] }\n',
    'apps/a/ledger.project.toml': project(
      'a',
      'log = "shared"\ngrid = "shared"\nb = "workspace"\nown = "~1.0.0"\n[needs.optional]\nfast = { range = "^1.0.0", when = ["linux-*"] }\n',
    ),
    'libs/b/ledger.project.toml': project('b'),
  });
  expect(placed).toEqual([]);
  const [a, b] = workspace!.projects;
  expect(
    a!.requirements.map(({ name, kind, meaning, targets, isEverywhere }) => [
      name,
      kind,
      meaning.kind === 'project' ? meaning.folder : meaning.text,
      targets.length,
      isEverywhere,
    ]),
  ).toEqual([
    ['log', 'runtime', '^3.0.0', 3, false],
    ['grid', 'runtime', '4.0.0', 3, false],
    ['b', 'runtime', 'libs/b', 3, false],
    ['own', 'runtime', '~1.0.0', 3, false],
    ['fast', 'optional', '^1.0.0', 2, false],
    ['lint', 'dev', '^1.0.0', 3, true],
  ]);
  expect(b!.requirements).toEqual([]);
});

describe('what is wrong is said with file, line and column:', () => {
  const a = 'apps/a/ledger.project.toml';
  test.each<[string, Readonly<Record<string, string>>, readonly string[]]>([
    ['a file that is no TOML', { [a]: 'name = "a\n' }, [`SYNTAX ${a}:1:10`]],
    [
      'a name borne twice',
      { [a]: project('a'), 'libs/x/ledger.project.toml': project('a') },
      ['PROJECT_TWICE libs/x/ledger.project.toml:1:8'],
    ],
    [
      'a shared version that is not there',
      { [a]: project('a', 'log = "shared"\n') },
      [`NOT_SHARED ${a}:3:1`],
    ],
    [
      'a project that is not there',
      {
        [a]: project('a', 'ui-kot = "workspace"\n'),
        'libs/ui-kit/ledger.project.toml': project('ui-kit'),
      },
      [`PROJECT_UNKNOWN ${a}:3:1`],
    ],
    [
      'a target that is not there',
      { [a]: project('a', 'x = { range = "1", when = ["win-*"] }\n') },
      [`TARGET_UNKNOWN ${a}:3:1`],
    ],
    [
      'an exception for nobody',
      {
        [a]: project('a'),
        'ledger.shared.toml':
          'format = 1\n[[exceptions]]\nproject = "b"\npackage = "x"\nrange = "1"\nreason = "r"\nowner = "o"\nuntil = 2027-01-01\n',
      },
      ['PROJECT_UNKNOWN ledger.shared.toml:2:1'],
    ],
    [
      'a pattern that leads out',
      { 'ledger.toml': ROOT.replace('"libs/*"', '"../x"'), [a]: project('a') },
      ['GLOB_OUTSIDE ledger.toml:3:23'],
    ],
  ])('%s', (_, files, expected) => {
    const { workspace, placed, isBlocked } = read(files);
    expect(placed.filter((line) => !line.startsWith('GLOB_WITHOUT'))).toEqual(expected);
    expect(isBlocked).toBe(true);
    expect(workspace).not.toBeNull();
  });

  test('a pattern without a match is a remark that stops nothing', () => {
    const { placed, isBlocked } = read({ 'apps/a/ledger.project.toml': project('a') });
    expect(placed).toEqual(['GLOB_WITHOUT_MATCH ledger.toml:3:23']);
    expect(isBlocked).toBe(false);
  });

  test('a repository without ledger.toml', () => {
    const { workspace, problems } = readWorkspace(new Map([['README.md', 'x']]));
    expect(workspace).toBeNull();
    expect(problems.map(({ problem }) => problem.code)).toEqual(['FILE_MISSING']);
  });
});

test('a manifest that did not change is not read again', () => {
  const files = new Map([
    ['ledger.toml', ROOT],
    ['apps/a/ledger.project.toml', project('a', 'x = "1"\n')],
    ['apps/b/ledger.project.toml', project('b')],
  ]);
  const first = readWorkspace(files);
  const changed = new Map(files).set('apps/b/ledger.project.toml', project('b', 'y = "1"\n'));
  const second = readWorkspace(changed, first);
  expect(second.workspace).toEqual(readWorkspace(changed).workspace);
  expect(second.manifests.get('apps/a/ledger.project.toml')).toBe(
    first.manifests.get('apps/a/ledger.project.toml'),
  );
  expect(second.manifests.get('apps/b/ledger.project.toml')).not.toBe(
    first.manifests.get('apps/b/ledger.project.toml'),
  );
});

test('a requirement takes, equals, is out of line, or is excepted until the last day', () => {
  const { workspace } = read({
    'ledger.shared.toml':
      'format = 1\n[shared]\nlog = "^3.0.0"\n[[exceptions]]\nproject = "d"\npackage = "log"\nrange = "^1.0.0"\nreason = "r"\nowner = "o"\nuntil = 2026-06-30\n',
    'apps/a/ledger.project.toml': project('a', 'log = "shared"\nother = "1"\n'),
    'apps/b/ledger.project.toml': project('b', 'log = ">=3.0.0 <4.0.0"\n'),
    'apps/c/ledger.project.toml': project('c', 'log = "^2.0.0"\n'),
    'apps/d/ledger.project.toml': project('d', 'log = "^1.0.0"\n'),
  });
  const standings = (today: string): readonly string[] =>
    workspace!.projects.flatMap(({ requirements }) =>
      requirements.map((r) => standingOf(workspace!, r, today).kind),
    );
  expect(standings('2026-06-30')).toEqual(['takes', 'nothing-agreed', 'equals', 'off', 'excepted']);
  expect(standings('2026-07-01')).toEqual(['takes', 'nothing-agreed', 'equals', 'off', 'off']);
});
