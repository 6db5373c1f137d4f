import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { TestRegistry } from '../test/test-registry.js';
import { TestRepository } from '../test/test-repository.js';
import { TestServer } from '../test/test-server.js';
import type { RegistryPackageDto, SearchDto } from './registry-page.dto.js';

const FILES = {
  'ledger.toml': `format = 1
name = "two"
projects = ["apps/*"]
[registries]
house = ["@house/*"]
main = ["*"]
[policy]
licences = ["MIT"]
`,
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "^1.0.0"\n',
  'apps/kit/ledger.project.toml': 'name = "kit"\n',
};

let server: TestServer;
let main: TestRegistry;
let house: TestRegistry;
let repository: TestRepository;
let at: (path: string) => string;

beforeAll(async () => {
  server = await TestServer.start();
  main = await TestRegistry.with({
    log: { '1.0.0': {}, '1.1.0': { json: '^1.0.0' } },
    json: { '1.0.0': {} },
    // Somebody outside publishes under a name of the house.
    '@house/log': { '9.0.0': {} },
  });
  house = await TestRegistry.with({ '@house/log': { '1.0.0': {} }, other: { '1.0.0': {} } });
  repository = await TestRepository.with(FILES);
  const { body } = await server.http
    .post('/api/workspaces')
    .send({
      address: repository.address,
      registries: [
        { name: 'house', address: house.url },
        { name: 'main', address: main.url },
      ],
    })
    .expect(201);
  const { slug } = body as { slug: string };
  at = (path) => `/api/workspaces/${slug}/registry${path}`;
});
afterAll(async () => {
  await server.stop();
  await Promise.all([main.stop(), house.stop(), repository.remove()]);
});

const search = async (query: string): Promise<SearchDto> =>
  (await server.http.get(at(`?query=${encodeURIComponent(query)}`)).expect(200)).body as SearchDto;

describe('search', () => {
  test('asks all registries, and believes each only for its own names', async () => {
    const { found, troubles, isCut } = await search('log');
    expect(found.map(({ name, registry, newest }) => [name, registry, newest])).toEqual([
      ['@house/log', 'house', '1.0.0'],
      ['log', 'main', '1.1.0'],
    ]);
    expect({ troubles, isCut }).toEqual({ troubles: [], isCut: false });
    expect(found[1]).toMatchObject({ projects: 1, isLicenceAllowed: true });
    expect(await search('nothing of the kind')).toMatchObject({ found: [] });
  });

  test.each<[string, string]>([
    ['no list', '{"total": 3}'],
    ['no JSON', '<html>'],
    ['a list of anything', '{"packages": [1, null, {"name": " "}, {"name": "log", "newest": 7}]}'],
  ])('goes on with the others where one answers %s', async (_, body) => {
    main.lies.set('/packages', body);
    const { found, troubles } = await search('log');
    main.lies.delete('/packages');
    expect(found.map(({ name }) => name)).toContain('@house/log');
    expect(found.length + troubles.length).toBe(2);
  });
});

describe('a package', () => {
  const read = async (name: string, status = 200): Promise<RegistryPackageDto> =>
    (await server.http.get(at(`/packages/${encodeURIComponent(name)}`)).expect(status))
      .body as RegistryPackageDto;

  test('is told with its releases, the newest that can be used, and who requires it', async () => {
    expect(await read('log')).toMatchObject({
      registry: 'main',
      newest: '1.1.0',
      agreed: null,
      releases: [
        { version: '1.1.0', needs: ['json ^1.0.0'], why: null },
        { version: '1.0.0', needs: [] },
      ],
      projects: [
        { name: 'kit', kind: null, range: null },
        { name: 'web', kind: 'runtime', range: '^1.0.0' },
      ],
    });
    expect(await read('@house/log')).toMatchObject({ registry: 'house', newest: '1.0.0' });
  });

  test('has notes where its registry tells some', async () => {
    const notes = async (name: string, version: string, status = 200): Promise<object> => {
      const path = `/packages/${encodeURIComponent(name)}/notes/${encodeURIComponent(version)}`;
      return (await server.http.get(at(path)).expect(status)).body as object;
    };
    expect(await notes('log', '1.1.0')).toEqual({ text: null, isCut: false });
    const document = { name: 'log', releases: [{ version: '1.1.0', notes: '- folds lines' }] };
    main.lies.set('/packages/log', JSON.stringify(document));
    expect(await notes('log', '1.1.0')).toEqual({ text: '- folds lines', isCut: false });
    expect(await notes('log', '9.9.9')).toEqual({ text: null, isCut: false });
    main.lies.set('/packages/log', '<html>');
    expect(await notes('log', '1.1.0', 502)).toMatchObject({ code: 'REGISTRY_NONSENSE' });
    main.lies.delete('/packages/log');
  });

  test('that its registry does not have is unknown, whatever others offer', async () => {
    const unknown = (await read('other', 404)) as unknown as { detail: string };
    expect(unknown.detail).toBe('main has no package other.');
    const near = (await read('lag', 404)) as unknown as { detail: string };
    expect(near.detail).toContain('Did you mean log?');
  });
});
