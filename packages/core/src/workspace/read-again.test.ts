import * as fc from 'fast-check';
import { expect, test } from 'vitest';
import { plain } from './read-apart.arbitrary.js';
import { readWorkspace, type WorkspaceReading } from './read-workspace.js';

const root = (lines: string): string => `format = 1\nname = "w"\nregistry = "main"\n${lines}`;
const kit = (lines: string): string =>
  `format = 1\n[[manifest]]\nfiles = ["kit/**/app.json"]\nsyntax = "json"\nname = "$.name"\n[[manifest.requirements]]\nat = "$.needs"\nkind = "runtime"\n${lines}`;

/** What each file may say, or that it is not there. Some hold mistakes of each kind. */
const TEXTS: Readonly<Record<string, readonly (string | null)[]>> = {
  'ledger.toml': [
    root('projects = ["apps/*"]\n[owners]\ncrew = ["apps/*"]\n'),
    root('projects = ["apps/*", "libs/*", "!apps/b"]\n[owners]\ncrew = ["libs/*", "kit/x"]\n'),
    root('projects = ["apps/a", "/out"]\n[platform]\ntargets = ["linux-x64"]\n'),
    null,
  ],
  'ledger.shared.toml': [
    null,
    'format = 1\n[shared]\nlog = "^1.0.0"\n',
    'format = 1\n[shared]\nlog = "%"\n[everywhere]\nrope = { range = "2", except = ["b", "nobody"] }\n',
  ],
  'ledger.shapes.toml': [
    null,
    kit(''),
    kit('[shared]\nfile = "agreed.json"\nsyntax = "json"\nat = "$"\n'),
  ],
  'agreed.json': [null, '{ "log": "^2.0.0" }', '{ "rope": "1" }'],
  'apps/a/ledger.project.toml': [
    'name = "a"\n[needs]\nlog = "shared"\nb = "workspace"\n',
    'name = "a"\n[needs]\nlog = "^1.0.0"\n',
    'name = "libs"\n',
    'name =',
    null,
  ],
  'apps/b/ledger.project.toml': [null, 'name = "b"\n[needs]\nrope = "1"\n', 'name = "a"\n'],
  'libs/c/ledger.project.toml': [null, 'name = "c"\n[needs]\na = "workspace"\n'],
  'kit/x/app.json': [null, '{ "name": "x", "needs": { "log": "^2.0.0" } }', '{'],
  'kit/x/y/app.json': [null, '{ "needs": { "rope": "1", "x": "1" } }'],
};

const anyFiles = fc
  .record(
    Object.fromEntries(
      Object.entries(TEXTS).map(([path, texts]) => [path, fc.constantFrom(...texts)]),
    ),
  )
  .map(
    (texts) =>
      new Map(
        Object.entries(texts).flatMap(([path, text]) => (text === null ? [] : [[path, text]])),
      ),
  );

test('a workspace that is read again after changes is what a first reading says', () => {
  fc.assert(
    fc.property(fc.array(anyFiles, { minLength: 2, maxLength: 4 }), (stands) => {
      let before: WorkspaceReading | undefined;
      for (const files of stands) {
        before = readWorkspace(files, before);
        expect(plain(before)).toEqual(plain(readWorkspace(files)));
      }
    }),
  );
});

test('what nothing has touched is the same object as before', () => {
  const files = new Map([
    ['ledger.toml', TEXTS['ledger.toml']![0]!],
    ['apps/a/ledger.project.toml', TEXTS['apps/a/ledger.project.toml']![1]!],
    ['apps/b/ledger.project.toml', TEXTS['apps/b/ledger.project.toml']![1]!],
  ]);
  const first = readWorkspace(files);
  const again = readWorkspace(
    new Map(files).set('apps/b/ledger.project.toml', 'name = "b"\n'),
    first,
  );
  expect(again.workspace!.projects[0]).toBe(first.workspace!.projects[0]);
  expect(again.workspace!.agreements).toBe(first.workspace!.agreements);
  expect(again.folders).toBe(first.folders);
  expect(again.idleOwners).toBe(first.idleOwners);
  expect(again.workspace!.projects[1]!.requirements).toEqual([]);
});
