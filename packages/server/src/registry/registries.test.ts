import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { FILES } from '../test/small-world.js';
import { TestRegistry } from '../test/test-registry.js';
import { TestRepository } from '../test/test-repository.js';
import { TestServer } from '../test/test-server.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';

const ROOT = FILES['ledger.toml'].replace(
  'registry = "main"',
  '[registries]\nhouse = ["@lifts/*"]\nmain = ["*"]',
);
const OURS = {
  ...FILES,
  'ledger.toml': ROOT,
  'apps/web/ledger.project.toml':
    'name = "Web/Shop"\n[needs]\n"@lifts/core" = "^1.0.0"\njson = "*"\n',
};
const TOKEN = 's3cret-token';

let server: TestServer;
let house: TestRegistry;
let main: TestRegistry;
let repository: TestRepository;

beforeEach(async () => {
  server = await TestServer.start();
  house = await TestRegistry.with({ '@lifts/core': { '1.0.0': {}, '1.1.0': {} } });
  // Somebody outside publishes by a name of the house, higher.
  main = await TestRegistry.with({
    '@lifts/core': { '1.9.0': {} },
    json: { '1.0.0': {} },
    log: { '1.0.0': {} },
  });
  repository = await TestRepository.with(OURS);
});
afterEach(async () => {
  await server.stop();
  await house.stop();
  await main.stop();
  await repository.remove();
});

const open = (body: object) =>
  server.http.post('/api/workspaces').send({ address: repository.address, ...body });

const both = () => ({
  registries: [
    { name: 'house', address: house.url },
    { name: 'main', address: main.url },
  ],
});

async function copies(slug: string): Promise<readonly string[]> {
  const created = await server.http.post(`/api/workspaces/${slug}/drafts`).send({}).expect(201);
  const { evaluation } = created.body as {
    evaluation: { consequences: { change: { entered: { name: string; version: string }[] } } };
  };
  return evaluation.consequences.change.entered.map(({ name, version }) => `${name} ${version}`);
}

describe('a workspace with two registries', () => {
  test('asks each name of its own registry and of no other', async () => {
    const { body } = await open(both()).expect(201);
    const { slug } = body as { slug: string };
    expect(await copies(slug)).toEqual(['@lifts/core 1.1.0', 'json 1.0.0', 'log 1.0.0']);
    expect(main.asked.filter((path) => decodeURIComponent(path).includes('@lifts'))).toEqual([]);
    expect(house.asked.filter((path) => /json|log/.test(path))).toEqual([]);
    await server.http
      .get(`/api/workspaces/${slug}/packages/${encodeURIComponent('@lifts/core')}`)
      .expect(200);
    await server.http.get(`/api/workspaces/${slug}/model`).expect(200);
  });

  test('does not look elsewhere for what its own registry lacks or does not say', async () => {
    const { body } = await open(both()).expect(201);
    const { slug } = body as { slug: string };
    await house.stop();
    house = await TestRegistry.with({});
    await server.http
      .put(`/api/workspaces/${slug}/registries/house`)
      .send({ address: house.url })
      .expect(200);
    const created = await server.http.post(`/api/workspaces/${slug}/drafts`).send({}).expect(201);
    expect(created.body).toMatchObject({ evaluation: { kind: 'unanswered' } });
    expect(main.asked.filter((path) => decodeURIComponent(path).includes('@lifts'))).toEqual([]);
  });

  test('what was read at an address from before is not served once it is another', async () => {
    const { body } = await open(both()).expect(201);
    const { slug } = body as { slug: string };
    const before = await server.nest.get(WorkspaceService, { strict: false }).bySlug(slug);
    const empty = await TestRegistry.with({});
    await server.http
      .put(`/api/workspaces/${slug}/registries/house`)
      .send({ address: empty.url })
      .expect(200);
    // Somebody who had the workspace in hand before ends reading it only now.
    await server.nest.get(SnapshotService, { strict: false }).read(before, 'now');
    const created = await server.http.post(`/api/workspaces/${slug}/drafts`).send({}).expect(201);
    expect(created.body).toMatchObject({ evaluation: { kind: 'unanswered' } });
    await empty.stop();
  });

  test.each([
    ['one address for two', () => ({ registry: main.url }), 'REGISTRY_UNNAMED'],
    [
      'an address for one of two',
      () => ({ registries: [{ name: 'main', address: main.url }] }),
      'REGISTRY_ADDRESS_MISSING',
    ],
    [
      'an address for one that it does not have',
      () => ({ registries: [...both().registries, { name: 'mian', address: main.url }] }),
      'REGISTRY_UNKNOWN',
    ],
  ])('is not opened with %s', async (_, body, code) => {
    const answer = await open(body()).expect(422);
    expect(answer.body).toMatchObject({ code });
    expect(answer.text).toContain('house, main');
  });
});

describe('a registry that wants a token', () => {
  let slug: string;
  beforeEach(async () => {
    ({ slug } = (await open(both()).expect(201)).body as { slug: string });
    house.token = TOKEN;
  });

  const at = (path = ''): string => `/api/workspaces/${slug}/registries/house${path}`;

  test('is tried, then set, and the token is never sent back or kept open', async () => {
    const without = await server.http.post(at('/try')).send({ address: house.url }).expect(422);
    expect(without.text).toContain('wants other credentials (status 401)');
    await server.http.put(at()).send({ address: house.url, token: 'wrong' }).expect(422);
    const tried = await server.http
      .post(at('/try'))
      .send({ address: house.url, token: TOKEN, package: '@lifts/core' })
      .expect(200);
    expect(tried.body).toEqual({
      package: { name: '@lifts/core', releases: 2, newest: '1.1.0' },
    });
    const set = await server.http.put(at()).send({ address: house.url, token: TOKEN }).expect(200);
    expect(set.body).toEqual([
      expect.objectContaining({ name: 'house', url: house.url, hasCredentials: true }),
      expect.objectContaining({ name: 'main', url: main.url, hasCredentials: false }),
    ]);
    const state = await server.http.post(`/api/workspaces/${slug}/refresh`).expect(200);
    expect(state.body).toMatchObject({ registryState: { state: 'up', unknown: [] } });
    expect(state.text + set.text).not.toContain(TOKEN);
    expect(JSON.stringify(await server.query('SELECT * FROM workspace'))).not.toContain(TOKEN);
    expect(JSON.stringify(await server.query('SELECT * FROM audit'))).not.toContain(TOKEN);
  });

  test('keeps its token while the address stays, and gives it to no other address', async () => {
    await server.http.put(at()).send({ address: house.url, token: TOKEN }).expect(200);
    await server.http.put(at()).send({ address: house.url }).expect(200);
    const other = await TestRegistry.with({});
    other.token = TOKEN;
    await server.http.put(at()).send({ address: other.url }).expect(422);
    await server.http.put(at()).send({ address: house.url, forget: true }).expect(422);
    await other.stop();
  });

  test('is opened with its token', async () => {
    const registries = both().registries.map((one) => ({ ...one, token: TOKEN }));
    const answer = await open({ registries }).expect(201);
    expect(answer.text).not.toContain(TOKEN);
    const state = await server.http.post(`/api/workspaces/${slug}/refresh`).expect(200);
    expect(state.body).toMatchObject({ registryState: { state: 'up' } });
  });

  test('a name that ledger.toml does not have is refused', async () => {
    const answer = await server.http
      .put(`/api/workspaces/${slug}/registries/hause`)
      .send({ address: house.url })
      .expect(404);
    expect(answer.body).toMatchObject({ code: 'REGISTRY_UNKNOWN' });
  });
});

test('a workspace that gets a second registry asks nobody for its names until its address is known', async () => {
  await repository.remove();
  repository = await TestRepository.with({ ...OURS, 'ledger.toml': FILES['ledger.toml'] });
  const { slug } = (await open({ registry: main.url }).expect(201)).body as { slug: string };
  await repository.commit({ 'ledger.toml': ROOT }, 'a house of our own');
  main.asked.length = 0;
  const { body } = await server.http.post(`/api/workspaces/${slug}/refresh`).expect(200);
  expect(body).toMatchObject({ registryState: { state: 'down', unknown: ['@lifts/core'] } });
  expect(JSON.stringify(body)).toContain('No address is known for the registry house');
  expect(main.asked.filter((path) => decodeURIComponent(path).includes('@lifts'))).toEqual([]);
  const lines = await server.http.get(`/api/workspaces/${slug}/registries`).expect(200);
  expect(lines.body).toMatchObject([
    { name: 'house', patterns: ['@lifts/*'], url: null },
    { name: 'main', url: main.url },
  ]);
});
