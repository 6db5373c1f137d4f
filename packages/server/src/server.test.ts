import { getDataSourceToken } from '@nestjs/typeorm';
import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { settingsFrom } from './settings.js';
import { FILES, REGISTRY } from './test/small-world.js';
import { TestRegistry } from './test/test-registry.js';
import { TestRepository } from './test/test-repository.js';
import { TestServer } from './test/test-server.js';

let server: TestServer;

beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());

test('the migrations give exactly the schema that the entities ask for', async () => {
  const database = server.nest.get<DataSource>(getDataSourceToken());
  const { upQueries } = await database.driver.createSchemaBuilder().log();
  expect(upQueries.map(({ query }) => query)).toEqual([]);
});

test('the migrations can be taken back', async () => {
  const other = await TestServer.start();
  const database = other.nest.get<DataSource>(getDataSourceToken());
  for (const _ of database.migrations) await database.undoLastMigration();
  const tables = await database.query<{ name: string }[]>(
    `SELECT table_name AS name FROM information_schema.tables WHERE table_schema = 'public'`,
  );
  expect(tables.map(({ name }) => name)).toEqual(['migrations']);
  await other.stop();
});

test('health tells anybody that the server answers and nothing else; a keeper how its parts do', async () => {
  const registry = await TestRegistry.with(REGISTRY);
  const repository = await TestRepository.with(FILES);
  const opened = await server.http
    .post('/api/workspaces')
    .send({ address: repository.address, registry: registry.url })
    .expect(201);
  const told = await server.stranger.get('/api/health').expect(200);
  expect(told.body).toEqual({ state: 'up' });
  await server.stranger.get('/api/health/parts').expect(401);
  const up = await server.http.get('/api/health/parts').expect(200);
  expect(up.body).toMatchObject({
    state: 'up',
    database: { state: 'up' },
    git: { state: 'up' },
    registries: [{ url: registry.url, state: 'up' }],
  });
  await registry.stop();
  const impaired = await server.http.get('/api/health/parts').expect(200);
  await server.stranger.get('/api/health').expect(200);
  expect(impaired.body).toMatchObject({ state: 'impaired', registries: [{ state: 'down' }] });
  await server.http.delete(`/api/workspaces/${(opened.body as { slug: string }).slug}`).expect(204);
  await repository.remove();
});

test('the interface is described, and there is a page to read it', async () => {
  const { body } = await server.http.get('/api/openapi.json').expect(200);
  expect(Object.keys((body as { paths: object }).paths)).toContain(
    '/api/workspaces/{slug}/alignment',
  );
  const page = await server.http.get('/api/docs').redirects(1).expect(200);
  expect(page.text).toMatch(/swagger-ui/);
});

describe('failures are problem documents:', () => {
  test('no such route', async () => {
    const { body } = await server.http
      .get('/api/nothing')
      .expect(404)
      .expect('content-type', /application\/problem\+json/);
    expect(body).toMatchObject({ status: 404, code: 'NOT_FOUND' });
  });

  test('a body that is no JSON', async () => {
    const { body } = await server.http
      .post('/api/workspaces')
      .set('content-type', 'application/json')
      .send('{')
      .expect(400);
    expect(body).toMatchObject({ code: 'REQUEST_INVALID' });
  });

  test('an identifier that is none', async () => {
    await server.http.get('/api/workspaces/x/drafts/not-a-uuid').expect(400);
  });
});

test('only names of this machine are answered', async () => {
  const { body } = await server.http
    .get('/api/health')
    .set('host', 'elsewhere.example')
    .expect(421);
  expect(body).toMatchObject({ code: 'HOST_REFUSED' });
  await server.http.get('/api/health').set('host', 'LocalHost:4600').expect(200);
});

describe('settings', () => {
  test.each([
    [{}, /DATABASE_URL is not set/],
    [{ DATABASE_URL: 'x', PORT: 'web' }, /PORT is no port: web/],
    [{ DATABASE_URL: 'x', DEEP_LEDGER_TODAY: 'soon' }, /DEEP_LEDGER_TODAY is no day/],
    [{ DATABASE_URL: 'x', DEEP_LEDGER_URL: 'ledger' }, /DEEP_LEDGER_URL is no http address/],
    [{ DATABASE_URL: 'x', DEEP_LEDGER_DEMO_REGISTRY: 'x' }, /go together/],
  ])('%j is refused by name', (env, message) => {
    expect(() => settingsFrom(env)).toThrow(message);
  });
});
