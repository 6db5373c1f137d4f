import { expect, test } from 'vitest';
import { ownersByFolder } from './owners-of.js';
import { placeProblems } from './place-problem.js';
import { readWorkspace } from './read-workspace.js';
import { isBlocking } from './workspace.js';

function read(owners: string) {
  const root = `format = 1\nname = "w"\nregistry = "main"\nprojects = ["apps/*"]\n[owners]\n${owners}`;
  const files = new Map([
    ['ledger.toml', root],
    ...['desk', 'kiosk', 'kiosk-old'].map(
      (name) => [`apps/${name}/ledger.project.toml`, `name = "${name}"\n`] as const,
    ),
  ]);
  const { workspace, problems } = readWorkspace(files);
  const told = placeProblems(files, problems).map(
    ({ message, place }) => `${place.line}:${place.column}: ${message}`,
  );
  return { workspace, told, isBlocked: problems.some(isBlocking) };
}

test('patterns say who answers for a project; later ones take folders back', () => {
  const { workspace, told } = read(
    '"kiosk crew" = ["apps/kiosk*", "!apps/kiosk-old"]\n"desk crew" = ["apps/*"]\n',
  );
  expect(told).toEqual([]);
  const ownersOf = ownersByFolder(workspace!.owners);
  expect(['apps/desk', 'apps/kiosk', 'apps/kiosk-old', 'libs/rope'].map(ownersOf)).toEqual([
    ['desk crew'],
    ['desk crew', 'kiosk crew'],
    ['desk crew'],
    [],
  ]);
});

test('a pattern that matches no project is told, and nothing stands still for it', () => {
  const { told, isBlocked, workspace } = read('"desk crew" = ["apps/desk", "libs/*", "!apps/x"]\n');
  expect(told).toEqual([
    '6:29: "libs/*" matches the folder of no project. Correct the pattern or remove it.',
    '6:39: "!apps/x" matches the folder of no project. Correct the pattern or remove it.',
  ]);
  expect(isBlocked).toBe(false);
  expect(workspace!.owners).toHaveLength(1);
});

test.each([
  ['a name that is blank', '" " = ["apps/*"]', /^6:1: An owner has no name\./],
  ['no list', '"desk crew" = "apps/*"', /^6:15: "desk crew" must be an array of strings/],
  ['no text in a list', '"desk crew" = [1]', /^6:16: "desk crew" must be an array of strings/],
])('%s is an error with its place', (_, owners, message) => {
  const { told, isBlocked } = read(`${owners}\n`);
  expect(told).toEqual([expect.stringMatching(message)]);
  expect(isBlocked).toBe(true);
});
