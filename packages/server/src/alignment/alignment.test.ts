import { afterAll, beforeAll, expect, test } from 'vitest';
import { TestWorkspace } from '../test/test-workspace.js';
import type { AlignmentDto } from './alignment.dto.js';

const project = (name: string, needs: string): string => `name = "${name}"\n[needs]\n${needs}`;
const FILES = {
  'ledger.toml': 'format = 1\nname = "three"\nprojects = ["apps/*"]\nregistry = "main"\n',
  'apps/web/ledger.project.toml': project('web', 'log = "^1.0.0"\nmast = "^1.0.0"\n'),
  'apps/kit/ledger.project.toml': project('kit', 'log = "^1.0.0"\n'),
};
const REGISTRY = {
  log: { '1.0.0': { json: '^1.0.0' } },
  mast: { '1.0.0': {} },
  json: { '1.0.0': {} },
};

let world: TestWorkspace;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
  await world.post([{ kind: 'bring-up' }], 'Lock');
});
afterAll(() => world.stop());

test.each([
  ['', 'all', true, ['json', 'log', 'mast']],
  ['?scope=direct', 'direct', true, ['log', 'mast']],
  ['?scope=shared&cells=false', 'shared', false, ['log']],
  ['?cells=false', 'all', false, ['json', 'log', 'mast']],
])('rows of a scope, with cells or without (%s)', async (query, scope, hasCells, names) => {
  const answer = await world.get<AlignmentDto>(`/alignment${query}`);
  expect(answer).toMatchObject({ scope, hasCells, packages: 3 });
  expect(answer.projects).toHaveLength(2);
  expect(answer.rows.map(({ name }) => name).sort()).toEqual(names);
  const log = answer.rows.find(({ name }) => name === 'log')!;
  expect(log.usedBy).toBe(2);
  expect(log.cells).toHaveLength(hasCells ? 2 : 0);
});

test('a scope that there is not is refused', async () => {
  await world.get('/alignment?scope=some', 400);
  await world.get('/alignment?cells=1', 400);
});
