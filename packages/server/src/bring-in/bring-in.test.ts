import { afterAll, afterEach, beforeAll, beforeEach, expect, test } from 'vitest';
import {
  printRegistry,
  printShapes,
  type ManifestForm,
  type RegistryForm,
} from '@deep-ledger/core';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { TestRegistry } from '../test/test-registry.js';
import { TestRepository } from '../test/test-repository.js';
import { TestServer } from '../test/test-server.js';
import type { BringInDto, BroughtInDto } from './bring-in.dto.js';

const FILES = {
  'gate/about/parts.yaml':
    'about:\n  id: gate\nparts:\n  log: agreed   # old lines\n  json: ^1.0.0\n',
  'roster/about/parts.yaml':
    'about:\n  id: roster\nparts:\n  log: agreed\n  json: ^1.0.0\n  odd: same as gate\n  gate: here\n',
  'berths/module.xml': '<module id="berths">\n  <use id="log" is="[1.0,2.0)"/>\n</module>\n',
  'agreed.json': '{ "agreed": { "log": "^1.0.0" } }\n',
  'frozen.json':
    '{ "set": [{ "name": "log", "at": "1.0.0" }, { "name": "json", "at": "1.0.0" }] }\n',
  'docs/pier.json': '{ "length": 40 }\n',
  'photo.bin': '\0\0\0',
};
const REGISTRY = {
  log: { '1.0.0': {}, '1.1.0': {}, '2.0.0': {} },
  json: { '1.0.0': {} },
};

let server: TestServer;
let registry: TestRegistry;
let repository: TestRepository;
let slug: string;

beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  registry = await TestRegistry.with(REGISTRY);
  repository = await TestRepository.with(FILES);
  const { body } = await server.http
    .post('/api/workspaces')
    .send({ address: repository.address })
    .expect(201);
  ({ slug } = body as { slug: string });
});
afterEach(async () => {
  await registry.stop();
  await repository.remove();
});

const at = (rest = ''): string => `/api/workspaces/${slug}${rest}`;
const MAIN = [{ name: 'main', patterns: ['*'], versions: 'semver' }];

async function proposal(): Promise<BringInDto> {
  return (await server.http.get(at('/bring-in')).expect(200)).body as BringInDto;
}

function shapesOf({ manifests, shared, adopt }: BringInDto): string {
  return printShapes({
    manifests: manifests.map(({ form }) => form as ManifestForm),
    shared: shared?.form ?? null,
    adopt: adopt === null ? [] : [adopt.form],
    registries: [],
  });
}

async function prepared(): Promise<BringInDto> {
  const shapes = shapesOf(await proposal());
  const registries = [{ ...MAIN[0], address: registry.url }];
  const { body } = await server.http
    .put(at('/bring-in'))
    .send({ name: 'ferries', shapes, registries })
    .expect(200);
  return body as BringInDto;
}

async function drafted(): Promise<SeenDraft & { id: string; message: string }> {
  const created = await server.http.post(at('/drafts')).send({}).expect(201);
  const { id } = created.body as { id: string };
  const { body } = await server.http
    .post(at(`/drafts/${id}/edits`))
    .send({ edits: [{ kind: 'bring-up' }] })
    .expect(200);
  return body as SeenDraft & { id: string; message: string };
}

test('a repository without our files is recognised, and shows what is read in it', async () => {
  const found = await proposal();
  expect(found).toMatchObject({ files: 7, notText: 1, tooLarge: 0, isCut: false, prepared: null });
  expect(found.manifests.map(({ form, files }) => [form.files[0], files])).toEqual([
    ['*/about/parts.yaml', 2],
    ['berths/module.xml', 1],
  ]);
  expect(found.manifests[0]!.form.spelling).toMatchObject({ shared: 'agreed', workspace: 'here' });
  expect(found.adopt).toMatchObject({ form: { file: 'frozen.json' }, values: 2 });
  expect(found.unread).toEqual(['docs/pier.json']);
  const { body } = await server.http
    .post(at('/bring-in/reading'))
    .send({
      name: 'ferries',
      registries: MAIN,
      shapes: shapesOf(found),
      sample: 'roster/about/parts.yaml',
    })
    .expect(200);
  const read = body as BroughtInDto;
  expect(read).toMatchObject({
    workspace: {
      projects: 3,
      requirements: 6,
      packages: 2,
      unresolvedCount: 1,
      unresolved: [{ name: 'odd', text: 'same as gate', file: 'roster/about/parts.yaml', line: 6 }],
    },
    agreed: 1,
    adopted: 2,
    problemCount: 0,
  });
  expect(read.shapes[0]).toMatchObject({
    files: 2,
    named: 2,
    foreign: 1,
    places: [{ files: 2, requirements: 6 }],
    emptyCount: 0,
  });
  const { text, marks, lines, project } = read.sample!;
  expect(project).toBe('roster');
  expect(marks.map(({ start, end, kind }) => `${kind} ${text.slice(start, end)}`)).toEqual([
    'project roster',
    'package log',
    'word agreed',
    'package json',
    'range ^1.0.0',
    'package odd',
    'foreign same as gate',
    'package gate',
    'word here',
  ]);
  expect(lines.map(({ name, written, agreed, line }) => [name, written, agreed, line])).toEqual([
    ['log', 'shared', '^1.0.0', 4],
    ['json', '^1.0.0', null, 5],
    ['odd', null, null, 6],
    ['gate', 'workspace', null, 7],
  ]);
});

test('a wrong query is told with its place, and the others stay', async () => {
  const found = await proposal();
  const [first, ...rest] = found.manifests;
  const wrong = { ...first!.form, name: '$.about[' };
  const shapes = shapesOf({ ...found, manifests: [{ ...first!, form: wrong }, ...rest] });
  const { body } = await server.http
    .post(at('/bring-in/reading'))
    .send({ name: 'ferries', registries: MAIN, shapes })
    .expect(200);
  expect((body as BroughtInDto).problems[0]).toMatchObject({
    code: 'QUERY_INVALID',
    place: { file: 'ledger.shapes.toml' },
  });
  await server.http
    .put(at('/bring-in'))
    .send({ name: 'ferries', shapes, registries: [{ ...MAIN[0], address: registry.url }] })
    .expect(422)
    .expect(({ body: refused }) => expect(refused).toMatchObject({ code: 'SHAPES_INVALID' }));
});

test('what is prepared is a workspace; a draft adds its files and touches no other', async () => {
  await prepared();
  const state = await server.http.get(at()).expect(200);
  expect(state.body).toMatchObject({
    name: 'ferries',
    bringIn: 'prepared',
    projects: 3,
    lock: { state: 'stale' },
  });
  const draft = await drafted();
  expect(draft.message).toMatch(/^Bring in ferries\n/);
  expect(draft.evaluation).toMatchObject({
    kind: 'answered',
    consequences: { adopted: { kept: 2, changed: [] } },
  });
  await server.http
    .post(at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: draft.message })
    .expect(201);
  expect(await repository.git('diff', '--name-status', 'HEAD~1', 'HEAD')).toBe(
    'A\tledger.lock\nA\tledger.shapes.toml\nA\tledger.toml\n',
  );
  expect(await repository.git('show', 'HEAD:ledger.lock')).toContain('copy log 1.0.0');
  const after = await server.http.get(at()).expect(200);
  expect(after.body).toMatchObject({ bringIn: 'done', lock: { state: 'consistent' } });
  await server.http.get(at('/bring-in')).expect(409);
});

test('whoever has seen a draft with other files cannot post it', async () => {
  await prepared();
  const draft = await drafted();
  await prepared();
  const refused = await server.http
    .post(at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: 'x' })
    .expect(409);
  expect(refused.body).toMatchObject({ code: 'DRAFT_CHANGED' });
});

test('what was prepared can be forgotten', async () => {
  expect((await prepared()).prepared?.root).toContain('name = "ferries"');
  const { body } = await server.http.delete(at('/bring-in')).expect(200);
  expect(body).toMatchObject({ prepared: null });
  const state = await server.http.get(at()).expect(200);
  expect(state.body).toMatchObject({ bringIn: 'needed', projects: 0 });
});

test('a registry is tried before anything is kept, and one that speaks otherwise is recognised', async () => {
  registry.token = 'tide';
  const release = (v: string) => ({
    v,
    needs: { json: '^1.0.0' },
    url: `/f/${v}`,
    sum: 'ab'.repeat(32),
  });
  registry.lies.set('/goods/log', JSON.stringify({ all: ['1.0.0', '1.1.0'].map(release) }));
  const ask = {
    name: 'house',
    address: registry.url,
    package: 'log',
    path: '/goods/{+name}',
    versions: 'semver',
  };
  const refused = await server.http
    .post(at('/bring-in/try'))
    .send({ ...ask, shapes: 'format = 1\n' })
    .expect(422);
  expect((refused.body as { detail: string }).detail).toContain('wants other credentials');
  const first = await server.http
    .post(at('/bring-in/try'))
    .send({ ...ask, token: 'tide', shapes: 'format = 1\n' })
    .expect(200);
  const { proposed, ...told } = first.body as { proposed: RegistryForm };
  expect(told).toMatchObject({
    address: `${registry.url}/goods/log`,
    releases: null,
    document: expect.stringContaining('"v": "1.0.0"') as string,
  });
  const second = await server.http
    .post(at('/bring-in/try'))
    .send({ ...ask, token: 'tide', shapes: `format = 1\n${printRegistry(proposed)}` })
    .expect(200);
  expect(second.body).toMatchObject({ releases: 2, newest: '1.1.0', needs: 1, trouble: null });

  const documentOf = (...versions: readonly string[]): string =>
    JSON.stringify({ all: versions.map(release) });
  registry.lies.set('/goods/log', documentOf('1.2', '1.2.0.4', '2.0b1'));
  for (const [versions, told] of [
    ['semver', { releases: 0, newest: null }],
    ['dotted', { releases: 3, newest: '2.0b1' }],
  ] as const) {
    const shapes = `format = 1\n${printRegistry(proposed)}`;
    const { body } = await server.http
      .post(at('/bring-in/try'))
      .send({ ...ask, token: 'tide', versions, shapes })
      .expect(200);
    expect(body).toMatchObject(told);
  }
});
