import { afterEach, beforeEach, describe, expect, test } from 'vitest';
import { FILES, REGISTRY } from '../test/small-world.js';
import { documents } from '../test/test-registry.js';
import { TestWorkspace } from '../test/test-workspace.js';

let world: TestWorkspace;

beforeEach(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
});
afterEach(() => world.stop());

const refresh = () => world.server.http.post(world.at('/refresh')).expect(200);

interface State {
  readonly registryState: { readonly state: string; readonly messages: readonly string[] };
  readonly outOfLine: number;
}

/** The document of `log` as the registry has it, with something put into its text. */
function logDocument(change: (text: string) => string): string {
  return change(JSON.stringify(documents(REGISTRY).find(({ name }) => name === 'log')));
}

describe('a registry that answers what none would', () => {
  const NAMES = Array.from({ length: 70_000 }, (_, i) => ({ name: `elm-${i}` }));

  test.each([
    ['the character zero', logDocument((text) => text.replace('about log', '\\u0000'))],
    ['half a character', logDocument((text) => text.replace('about log', '\\ud800'))],
    ['depth without end', '['.repeat(200_000)],
    ['the document of another', logDocument((text) => text.replace('"log"', '"other"'))],
    ['no JSON', '<h1>Not found</h1>'],
  ])('%s: what it said before is used, and the page says so', async (_, lie) => {
    const before = (await world.get<State>('')).outOfLine;
    world.registry.lies.set('/packages/log', lie);
    world.registry.lies.set(
      '/changes',
      JSON.stringify({ cursor: '900', changes: [{ name: 'log' }] }),
    );
    const { body } = await refresh();
    expect(body).toMatchObject({
      outOfLine: before,
      registryState: { state: 'nonsense', unknown: [] },
    });
    await world.get('/alignment');
    world.registry.lies.clear();
    expect((await refresh()).body).toMatchObject({ registryState: { state: 'up' } });
  });

  test('more changes at once than a statement takes parameters are read, and the next from there on', async () => {
    world.registry.lies.set(
      '/changes',
      JSON.stringify({ cursor: '70000', changes: [...NAMES, { name: 'log' }] }),
    );
    expect((await refresh()).body).toMatchObject({ registryState: { state: 'up' } });
    expect(await world.server.query('SELECT cursor FROM registry')).toEqual([{ cursor: '70000' }]);
    expect(world.registry.asked.filter((path) => path === '/packages/log')).toHaveLength(2);
  });

  test('a page that is not there is no word that a package is gone', async () => {
    const { body } = await world.server.http
      .post('/api/workspaces')
      .send({ address: world.repository.address, registry: `${world.registry.url}/elsewhere` })
      .expect(422);
    expect(body).toMatchObject({ code: 'REGISTRY_NONSENSE' });
  });
});

describe('what is kept of documents', () => {
  test('a change that is announced while a document is fetched is not lost', async () => {
    const newer = { ...REGISTRY, log: { ...REGISTRY.log, '2.2.0': {} } };
    const [old] = documents(REGISTRY);
    world.registry.lies.set('/packages/log', JSON.stringify(old));
    await world.server.query(`UPDATE registry SET cursor = '0'`);
    // Another server reads a change at the moment when this one has asked for the document.
    world.registry.before = async (path) => {
      if (path !== '/packages/log') return;
      world.registry.before = null;
      world.registry.serve(newer);
      await world.server.query(`UPDATE registry SET cursor = '99'`);
    };
    await refresh();
    world.registry.lies.clear();
    await refresh();
    const panel = await world.get<{ row: { newest: string } }>('/packages/log');
    expect(panel.row.newest).toBe('2.2.0');
  });

  test('names that somebody tries out leave nothing behind', async () => {
    const count = async () =>
      ((await world.server.query('SELECT count(*) AS n FROM package_document')) as object[])[0];
    const before = await count();
    for (let i = 0; i < 3; i++) {
      const edits = Array.from({ length: 40 }, (_, at) => ({
        kind: 'add-requirement',
        package: `elm-${i}-${at}`,
        range: '*',
        as: 'runtime',
        projects: ['apps/web'],
      }));
      const { body } = await world.server.http
        .post(world.at('/what-if'))
        .send({ edits })
        .expect(200);
      expect(body).toMatchObject({ evaluation: { kind: 'unanswered' } });
    }
    expect(await count()).toEqual(before);
  });

  test('a change to one package leaves all others as the same objects, and another workspace alone', async () => {
    const other = await TestWorkspace.open(
      { ...FILES, 'apps/web/ledger.project.toml': 'name = "web"\n[needs]\njson = "^1.0.0"\n' },
      { json: REGISTRY.json, log: REGISTRY.log },
      world.server,
    );
    const key = async (of: TestWorkspace) =>
      (await of.get<{ modelKey: string }>('/packages/json')).modelKey;
    const [mine, theirs] = [await key(world), await key(other)];
    world.registry.serve({ ...REGISTRY, json: { ...REGISTRY.json, '1.2.0': {} } });
    await world.server.query(
      `UPDATE registry SET cursor = '0' WHERE url = '${world.registry.url}'`,
    );
    await refresh();
    await world.server.http.post(other.at('/refresh')).expect(200);
    expect(await key(world)).not.toBe(mine);
    expect(await key(other)).toBe(theirs);
    await other.stop();
  });
});
