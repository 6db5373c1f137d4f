import { expect, test } from 'vitest';
import { placeProblems } from './place-problem.js';
import { readWorkspace } from './read-workspace.js';
import { isBlocking } from './workspace.js';

const ROOT = 'format = 1\nname = "w"\nregistry = "main"\nprojects = ["apps/*"]\n';

/** A manifest with that many requirements, each on a line of its own from the third on. */
function manifest(name: string, count: number, range = '^1.0.0'): string {
  const needs = Array.from({ length: count }, (_, i) => `p${i} = "${range}"`);
  return [`name = "${name}"`, '[needs]', ...needs, ''].join('\n');
}

function read(files: Readonly<Record<string, string>>) {
  const all = new Map(Object.entries({ 'ledger.toml': ROOT, ...files }));
  const reading = readWorkspace(all);
  const told = placeProblems(all, reading.problems).map(
    ({ message, place }) => `${place.file}:${place.line}: ${message}`,
  );
  return { ...reading, told };
}

test('a project with more requirements than are read is left out, with the place of the first that is too many', () => {
  const { workspace, told, problems } = read({
    'apps/a/ledger.project.toml': manifest('a', 20_001),
    'apps/b/ledger.project.toml': manifest('b', 20_000),
  });
  expect(workspace!.projects.map(({ name }) => name)).toEqual(['b']);
  expect(workspace!.unreadable).toEqual(['apps/a']);
  expect(problems.some(isBlocking)).toBe(true);
  expect(told).toEqual([
    'apps/a/ledger.project.toml:20003: At most 20,000 requirements of a project are read, and from here on there are more. Take out those that are not needed, or leave the file out of the workspace.',
  ]);
});

test('of a file with very many problems the first are told, and how many more there are', () => {
  const { told, problems } = read({
    'apps/a/ledger.project.toml': manifest('a', 5_000, '%'),
    'apps/b/ledger.project.toml': manifest('b', 1, '%'),
  });
  expect(problems).toHaveLength(202);
  expect(told[200]).toBe(
    'apps/a/ledger.project.toml:203: There are 4,800 more problems in this file, the first of them here. Mend those above first.',
  );
  expect(told[201]).toContain('apps/b/ledger.project.toml:3: The range of "p0"');
});

test('a foreign manifest with very many requirements that are no ranges is read in one go', () => {
  const shapes =
    'format = 1\nreadable = "strict"\n[[manifest]]\nfiles = ["**/m.json"]\nsyntax = "json"\nname = "$.name"\n[[manifest.requirements]]\nat = "$.needs"\nkind = "runtime"\n';
  const needs = Object.fromEntries(Array.from({ length: 100_000 }, (_, i) => [`p${i}`, '%']));
  const { workspace, problems } = read({
    'ledger.shapes.toml': shapes,
    'odd/m.json': JSON.stringify({ name: 'odd', needs }),
  });
  expect(workspace!.unreadable).toEqual(['odd']);
  const own = problems.filter(({ file }) => file === 'odd/m.json');
  expect(own).toHaveLength(201);
  expect(own.at(-1)!.problem).toMatchObject({ code: 'MORE_PROBLEMS' });
});
