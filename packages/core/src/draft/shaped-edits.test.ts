import { describe, expect, test } from 'vitest';
import { applyEdit } from './apply-edit.js';
import type { Edit } from '../edit/index.js';
import {
  placeProblems,
  readWorkspace,
  workspaceFileTest,
  type WorkspaceFiles,
} from '../workspace/index.js';

const ROOT = 'format = 1\nname = "w"\nprojects = []\nregistry = "main"\n';
const SHAPE = `[[manifest]]
files = ["*/build/app.yaml", "!attic/**"]
folder = 1
syntax = "yaml"
name = "$.app.id"
ships = { at = "$.app.kind", library = ["lib"] }
[[manifest.requirements]]
at = "$.libraries"
range = "$.wanted"
[[manifest.requirements]]
at = "$.tools[*]"
package = "$.id"
range = "$.wanted"
kind = "dev"
`;
const APP = `app:
  id: gate
  kind: lib
libraries:
  log: ^1.0.0   # agreed in May
  kit: 1.0.0
  odd: ../odd
tools:
  - id: lint
    wanted: ^2.0.0
`;

function filesWith(change: Readonly<Record<string, string>> = {}): WorkspaceFiles {
  return new Map(
    Object.entries({
      'ledger.toml': ROOT,
      'ledger.shapes.toml': `format = 1\n${SHAPE}`,
      'gate/build/app.yaml': APP,
      'kit/build/app.yaml': 'app: { id: kit }\nlibraries: {}\n',
      ...change,
    }),
  );
}

function problemsOf(files: WorkspaceFiles): readonly string[] {
  return placeProblems(files, readWorkspace(files).problems).map(
    ({ code, place }) => `${code} ${place.file}:${place.line}:${place.column}`,
  );
}

function edited(files: WorkspaceFiles, ...edits: readonly Edit[]): WorkspaceFiles {
  return edits.reduce((now, edit) => {
    const outcome = applyEdit(readWorkspace(now).workspace!, now, edit);
    if (!outcome.ok) throw new Error(outcome.problem.message);
    return outcome.files;
  }, files);
}

describe('projects in foreign manifests', () => {
  test('are read with their places; what is no range is kept and counted', () => {
    const { workspace, problems } = readWorkspace(filesWith());
    expect(problems).toEqual([]);
    const [gate, kit] = workspace!.projects;
    expect([gate!.folder, gate!.name, gate!.ships, kit!.folder]).toEqual([
      'gate',
      'gate',
      'library',
      'kit',
    ]);
    expect(
      gate!.requirements.map(({ kind, name, written, file, line }) => [
        kind,
        name,
        written,
        file,
        line,
      ]),
    ).toEqual([
      ['runtime', 'log', '^1.0.0', 'gate/build/app.yaml', 5],
      // A name that a project bears is that project.
      ['runtime', 'kit', 'workspace', 'gate/build/app.yaml', 6],
      ['dev', 'lint', '^2.0.0', 'gate/build/app.yaml', 9],
    ]);
    expect(gate!.unresolved).toEqual([
      { name: 'odd', text: '../odd', file: 'gate/build/app.yaml', line: 7 },
    ]);
  });

  test('are files of the workspace, and nothing else is', () => {
    const isOf = workspaceFileTest(filesWith().get('ledger.shapes.toml'));
    expect(
      ['gate/build/app.yaml', 'attic/build/app.yaml', 'gate/app.yaml', 'ledger.lock'].map(isOf),
    ).toEqual([true, false, false, true]);
  });

  test.each<[string, Readonly<Record<string, string>>, readonly string[]]>([
    [
      'a query that cannot be read',
      { 'ledger.shapes.toml': `format = 1\n${SHAPE.replace('$.libraries', '$.[libraries')}` },
      ['QUERY_INVALID ledger.shapes.toml:9:6'],
    ],
    [
      'a query with a pattern that may take for ever',
      {
        'ledger.shapes.toml': `format = 1\n${SHAPE.replace('"$.libraries"', `"$[?match(@.a, '(a+)+')]"`)}`,
      },
      ['QUERY_INVALID ledger.shapes.toml:9:6'],
    ],
    [
      'a file in another syntax than is said',
      { 'gate/build/app.yaml': '{"a": [}' },
      ['SYNTAX gate/build/app.yaml:1:8'],
    ],
    [
      'two documents in one file',
      { 'gate/build/app.yaml': 'a: 1\n---\nb: 2\n' },
      ['SYNTAX gate/build/app.yaml:2:1'],
    ],
    [
      'a name that is none',
      { 'gate/build/app.yaml': APP.replace('log:', '"lo g":') },
      ['NAME_INVALID gate/build/app.yaml:5:3'],
    ],
    [
      'patterns that match nothing',
      {
        'ledger.shapes.toml': `format = 1\n${SHAPE}[[manifest]]\nfiles = ["*.xml"]\nsyntax = "xml"\n[[manifest.requirements]]\nat = "$.a"\n`,
      },
      ['SHAPE_WITHOUT_MATCH ledger.shapes.toml:16:1'],
    ],
    [
      'a manifest of ours in the same folder',
      {
        'ledger.toml': ROOT.replace('[]', '["gate"]'),
        'gate/ledger.project.toml': 'name = "gate"\n',
      },
      ['MANIFEST_TWICE gate/build/app.yaml:1:1'],
    ],
    [
      'what is no range, where nothing else is allowed',
      { 'ledger.shapes.toml': `format = 1\nreadable = "strict"\n${SHAPE}` },
      ['RANGE_FOREIGN gate/build/app.yaml:7:3'],
    ],
    [
      'a pattern of lines without its groups',
      {
        'ledger.shapes.toml': `format = 1\n[[manifest]]\nfiles = ["a.txt"]\nsyntax = "lines"\npattern = 'use (\\w+)'\n`,
      },
      ['QUERY_INVALID ledger.shapes.toml:5:11'],
    ],
    [
      'a thing that shapes do not know',
      { 'ledger.shapes.toml': `format = 1\n${SHAPE}[manifest.spelling]\nshare = "x"\n` },
      ['UNKNOWN_KEY ledger.shapes.toml:17:1'],
    ],
  ])('%s is told with its place', (_, change, told) => {
    expect(problemsOf(filesWith(change))).toEqual(told);
  });
});

describe('a package that two manifests of one project require', () => {
  const twice = filesWith({
    'ledger.shapes.toml': `format = 1\n${SHAPE}[[manifest]]\nfiles = ["gate/more.json"]\nsyntax = "json"\n[[manifest.requirements]]\nat = "$.uses"\n`,
    'gate/more.json': '{ "uses": { "log": "^2.0.0" } }\n',
  });

  test('is told, also when nothing but another file was read anew', () => {
    const first = readWorkspace(twice);
    const codes = ({ problems }: typeof first): readonly string[] =>
      problems.map(({ problem }) => problem.code);
    expect(codes(first)).toEqual(['REQUIRED_TWICE']);
    const again = readWorkspace(new Map(twice).set('kit/build/app.yaml', 'libraries: {}\n'), first);
    expect(codes(again)).toEqual(['REQUIRED_TWICE']);
  });
});

describe('a file that has no word for the shared version', () => {
  const files = filesWith({
    'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^1.0.0"\n',
    'kit/build/app.yaml': 'app: { id: kit }\nlibraries:\n  log: ">=1.0.0 <2.0.0"\n',
  });

  test('takes it by the same range, however that is written', () => {
    const written = readWorkspace(files).workspace!.projects.map(
      ({ requirements }) => requirements.find(({ name }) => name === 'log')?.written,
    );
    expect(written).toEqual(['shared', 'shared']);
  });

  test('goes along when it moves, and keeps its range when nothing is agreed any more', () => {
    const moved = edited(files, { kind: 'set-shared', package: 'log', range: '^2.0.0' });
    expect(moved.get('gate/build/app.yaml')).toBe(APP.replace('log: ^1.0.0', 'log: ^2.0.0'));
    expect(moved.get('kit/build/app.yaml')).toContain('log: "^2.0.0"');
    const retired = edited(moved, { kind: 'retire-shared', package: 'log' });
    expect(retired.get('gate/build/app.yaml')).toBe(moved.get('gate/build/app.yaml'));
    const own = edited(moved, {
      kind: 'set-range',
      package: 'log',
      range: '~1.4.0',
      projects: ['gate'],
    });
    const back = edited(own, { kind: 'take-shared', package: 'log', projects: ['gate'] });
    expect(back.get('gate/build/app.yaml')).toBe(moved.get('gate/build/app.yaml'));
  });
});

describe('agreed versions in a foreign file', () => {
  const VERSIONS = '{\n  "agreed": {\n    "lint": "^2.0.0",\n    "log": "^1.0.0"\n  }\n}\n';
  const files = filesWith({
    'ledger.shapes.toml': `format = 1\n${SHAPE}[manifest.spelling]\nshared = "agreed"\n[shared]\nfile = "versions.json"\nsyntax = "json"\nat = "$.agreed"\n`,
    'versions.json': VERSIONS,
    'gate/build/app.yaml': APP.replace('log: ^1.0.0', 'log: agreed'),
  });

  test('are what the workspace agrees on', () => {
    const { workspace, problems } = readWorkspace(files);
    expect(problems).toEqual([]);
    expect([...workspace!.agreements].map(([name, { text }]) => `${name} ${text}`)).toEqual([
      'lint ^2.0.0',
      'log ^1.0.0',
    ]);
  });

  test('are changed, added and taken away there', () => {
    const moved = edited(
      files,
      { kind: 'level', package: 'log', range: '^3.0.0', projects: ['gate'] },
      { kind: 'set-shared', package: 'mast', range: '^1.0.0' },
      { kind: 'retire-shared', package: 'lint' },
    );
    expect(moved.get('versions.json')).toBe(
      '{\n  "agreed": {\n    "log": "^3.0.0",\n    "mast": "^1.0.0"\n  }\n}\n',
    );
    expect(moved.get('gate/build/app.yaml')).toBe(files.get('gate/build/app.yaml'));
    expect(moved.has('ledger.shared.toml')).toBe(false);
  });

  test('a package that is agreed on in both places is told', () => {
    const twice = new Map(files).set('ledger.shared.toml', 'format = 1\n[shared]\nlog = "1.0.0"\n');
    expect(problemsOf(twice)).toEqual(['AGREED_TWICE versions.json:4:5']);
  });
});

describe('what a shape cannot edit is refused with a sentence, and nothing is changed:', () => {
  const set: Edit = { kind: 'set-range', package: 'log', range: '^2.0.0', projects: ['gate'] };
  test.each([
    ['an alias', 'app: { id: gate, v: &v ^1.0.0 }\nlibraries:\n  log: *v\n', /an alias \(\*v\)/],
    [
      'an anchor',
      'app: { id: gate }\nlibraries:\n  log: &v ^1.0.0\n  other: *v\n',
      /an anchor \(&v\)/,
    ],
    [
      'a merge key',
      'app: { id: gate }\nbase: &b { x: 1.0.0 }\nlibraries:\n  <<: *b\n  log: ^1.0.0\n',
      /a merge key/,
    ],
    ['a tag', 'app: { id: gate }\nlibraries:\n  log: !!str ^1.0.0\n', /the tag/],
    ['a block', 'app: { id: gate }\nlibraries:\n  log: >-\n    ^1.0.0\n', /a block of lines/],
    [
      'a value over two lines',
      'app: { id: gate }\nlibraries:\n  log: "^1.0.0\n    || ^3.0.0"\n',
      /several lines/,
    ],
  ])('%s', (_, text, why) => {
    const files = filesWith({ 'gate/build/app.yaml': text });
    const outcome = applyEdit(readWorkspace(files).workspace!, files, set);
    expect(outcome.ok).toBe(false);
    expect(outcome.ok ? '' : outcome.problem.message).toMatch(why);
  });

  test('aliases that unfold without end are not unfolded', () => {
    const levels = Array.from(
      { length: 40 },
      (_, i) => `a${i + 1}: &a${i + 1} [${`*a${i}, `.repeat(10)}]`,
    );
    const text = `app: { id: gate }\na0: &a0 x\n${levels.join('\n')}\nlibraries:\n  log: ^1.0.0\n`;
    const files = filesWith({ 'gate/build/app.yaml': text });
    expect(problemsOf(files)).toEqual([]);
  });

  test('what is nested too deeply, or is too large, is refused with the place', () => {
    const deep = filesWith({ 'gate/build/app.yaml': `a: ${'['.repeat(10_000)}` });
    expect(problemsOf(deep)).toEqual(['SYNTAX gate/build/app.yaml:1:104']);
    const large = filesWith({ 'gate/build/app.yaml': `# ${'x'.repeat(4_000_001)}\n` });
    expect(problemsOf(large)).toEqual(['SYNTAX gate/build/app.yaml:1:4000001']);
  });
});
