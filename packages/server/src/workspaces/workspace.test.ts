import { rename, writeFile } from 'node:fs/promises';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { GitService } from '../git/git.service.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestRegistry } from '../test/test-registry.js';
import { TestRepository } from '../test/test-repository.js';
import { TestServer } from '../test/test-server.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { SnapshotService } from './snapshot.service.js';
import { WorkspaceService } from './workspace.service.js';

let server: TestServer;
let registry: TestRegistry;
let repository: TestRepository;

beforeAll(async () => {
  server = await TestServer.start();
});
afterAll(() => server.stop());
beforeEach(async () => {
  registry = await TestRegistry.with(REGISTRY);
  repository = await TestRepository.with(FILES);
});
afterEach(async () => {
  await registry.stop();
  await repository.remove();
});

function open(body: object = {}) {
  return server.http
    .post('/api/workspaces')
    .send({ address: repository.address, registry: registry.url, ...body });
}

describe('opening', () => {
  test('gives the workspace as it stands; opening it again gives the same', async () => {
    const opened = await open().expect(201);
    expect(opened.body).toMatchObject({
      name: 'small',
      branch: 'main',
      address: repository.address,
    });
    const { slug } = opened.body as { slug: string };
    const again = await open({ branch: 'main' }).expect(201);
    expect(again.body).toMatchObject({ slug });
    const state = await server.http.get(`/api/workspaces/${slug}`).expect(200);
    expect(state.body).toMatchObject({
      head: { commit: await repository.head(), subject: 'First', author: 'gate crew' },
      projects: 2,
      alignmentRows: 2,
      outOfLine: 1,
      drafts: 0,
      posts: 0,
      lock: { state: 'stale', reasons: [{ code: 'LOCK_MISSING' }], copies: null },
      registryState: { state: 'up', messages: [], unknown: [] },
      problems: [],
    });
    const list = await server.http.get('/api/workspaces').expect(200);
    expect((list.body as { slug: string }[]).map((one) => one.slug)).toContain(slug);
    await server.http.delete(`/api/workspaces/${slug}`).expect(204);
    const gone = await server.http.get(`/api/workspaces/${slug}`).expect(404);
    expect(gone.body).toMatchObject({ code: 'WORKSPACE_UNKNOWN' });
  });

  test('at the same time as others: each repository is one workspace, by a name of its own', async () => {
    const others = await Promise.all([1, 2].map(() => TestRepository.with(FILES)));
    const addresses = [repository, repository, ...others].map(({ address }) => address);
    const answers = await Promise.all(addresses.map((address) => open({ address })));
    expect(answers.map(({ status }) => status)).toEqual([201, 201, 201, 201]);
    const slugs = answers.map(({ body }) => (body as { slug: string }).slug);
    expect(slugs[1]).toBe(slugs[0]);
    expect(new Set(slugs).size).toBe(3);
    for (const slug of new Set(slugs)) {
      await server.http.get(`/api/workspaces/${slug}`).expect(200);
      await server.http.delete(`/api/workspaces/${slug}`).expect(204);
    }
    for (const one of others) await one.remove();
  });

  test('a repository without our files is open to be brought in, and one whose own cannot be read is told why', async () => {
    const bare = await TestRepository.with({ 'README.md': 'nothing' });
    const { body } = await open({ address: bare.address, registry: undefined }).expect(201);
    const { slug } = body as { slug: string };
    const state = await server.http.get(`/api/workspaces/${slug}`).expect(200);
    expect(state.body).toMatchObject({ bringIn: 'needed', projects: 0 });
    await server.http.delete(`/api/workspaces/${slug}`).expect(204);
    await bare.remove();
    const broken = await TestRepository.with({ 'ledger.toml': 'format = 1\nname = 3\n' });
    const refused = await open({ address: broken.address })
      .expect(422)
      .expect('content-type', /application\/problem\+json/);
    expect(refused.body).toMatchObject({ code: 'NO_WORKSPACE', status: 422 });
    await broken.remove();
  });

  test.each([
    [
      'a path that is not whole',
      { address: 'some/where' },
      422,
      'ADDRESS_INVALID',
      /write it from the root/i,
    ],
    [
      'a path where nothing is',
      { address: '/nonexistent/repository' },
      422,
      'REPOSITORY_UNREADABLE',
      /git cannot read \/nonexistent/,
    ],
    ['an address that git would run', { address: 'ext::sh -c id' }, 422, 'ADDRESS_INVALID', /./],
    [
      'a branch that is not there',
      { branch: 'nowhere' },
      422,
      'BRANCH_UNKNOWN',
      /has no branch nowhere\. It has main\./,
    ],
    [
      'a branch name that is none',
      { branch: 'a b' },
      400,
      'REQUEST_INVALID',
      /branch name has no spaces/,
    ],
    [
      'a registry that does not run',
      { registry: 'http://127.0.0.1:1' },
      422,
      'REGISTRY_DOWN',
      /cannot be reached/,
    ],
    [
      'a registry that is no address',
      { registry: 'main' },
      400,
      'REQUEST_INVALID',
      /Write the registry as an address/,
    ],
    [
      'a key that is not known',
      { extra: 1 },
      400,
      'REQUEST_INVALID',
      /^Extra: nothing of this name is known/,
    ],
    ['no address', { address: '' }, 400, 'REQUEST_INVALID', /Name the repository/],
  ])('%s is refused in words', async (_, body, status, code, detail) => {
    const answer = await open(body).expect(status);
    expect(answer.body).toMatchObject({ code });
    expect((answer.body as { detail: string }).detail).toMatch(detail);
    const list = await server.http.get('/api/workspaces').expect(200);
    expect(list.body).toEqual([]);
  });

  test('a registry that answers nonsense is refused', async () => {
    registry.nonsense = '<html>hello';
    const { body } = await open().expect(422);
    expect(body).toMatchObject({ code: 'REGISTRY_NONSENSE' });
    expect((body as { detail: string }).detail).toMatch(/not JSON \("<html>hello"\)/);
  });
});

describe('once open', () => {
  let slug: string;
  beforeEach(async () => {
    slug = ((await open().expect(201)).body as { slug: string }).slug;
  });
  afterEach(() => server.http.delete(`/api/workspaces/${slug}`).expect(204));

  const refreshed = () => server.http.post(`/api/workspaces/${slug}/refresh`).expect(200);

  test('a commit of others is seen', async () => {
    await repository.commit(
      { 'ledger.shared.toml': FILES['ledger.shared.toml'].replace('^1.0.0', '^2.0.0') },
      'Agree on 2',
    );
    const { body } = await refreshed();
    expect(body).toMatchObject({ head: { subject: 'Agree on 2' }, outOfLine: 0 });
  });

  test('a manifest that cannot be read is named with its place; the rest stays usable', async () => {
    await repository.commit(
      { 'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = ^1\n' },
      'Oops',
    );
    const { body } = await refreshed();
    expect(body).toMatchObject({
      projects: 1,
      problems: [
        {
          code: 'SYNTAX',
          isBlocking: true,
          place: { file: 'apps/kit/ledger.project.toml', line: 3, column: 7 },
        },
      ],
    });
    await server.http.get(`/api/workspaces/${slug}/alignment`).expect(200);
    await server.http.get(`/api/workspaces/${slug}/packages/log`).expect(200);
  });

  test('a file that is not UTF-8 is refused by name', async () => {
    const work = await repository.workTree();
    await writeFile(`${work}/apps/kit/ledger.project.toml`, Buffer.from([0x23, 0xff, 0x0a]));
    await repository.commitFrom(work, 'Bytes');
    const { body } = await server.http.post(`/api/workspaces/${slug}/refresh`).expect(422);
    expect(body).toMatchObject({ code: 'FILE_NOT_UTF8' });
  });

  test('a repository that is out of reach leaves what was read, says so, and takes no posts', async () => {
    const draft = await server.http.post(`/api/workspaces/${slug}/drafts`).send({}).expect(201);
    const { id, base } = draft.body as { id: string; base: string };
    await rename(repository.address, `${repository.address}.away`);
    await server.halt();
    await server.boot();
    const { body } = await server.http.get(`/api/workspaces/${slug}`).expect(200);
    expect(body).toMatchObject({ alignmentRows: 2, head: { commit: base } });
    expect((body as { repositoryTrouble: string }).repositoryTrouble).toMatch(/^git cannot read /);
    await server.http.get(`/api/workspaces/${slug}/drafts/${id}`).expect(200);
    const refused = await server.http.post(`/api/workspaces/${slug}/refresh`).expect(422);
    expect(refused.body).toMatchObject({ code: 'REPOSITORY_UNREADABLE' });
    const post = { ...seen(draft.body as SeenDraft), message: 'x' };
    await server.http.post(`/api/workspaces/${slug}/drafts/${id}/post`).send(post).expect(422);
    await rename(`${repository.address}.away`, repository.address);
    expect((await refreshed()).body).toMatchObject({ repositoryTrouble: null });
  });

  test('a registry that went down leaves what it said before', async () => {
    await registry.stop();
    const { body } = await refreshed();
    expect(body).toMatchObject({ registryState: { state: 'down', unknown: [] }, alignmentRows: 2 });
    expect((body as { registryState: { messages: string[] } }).registryState.messages[0]).toMatch(
      /Is the registry running\?/,
    );
    const alignment = await server.http.get(`/api/workspaces/${slug}/alignment`).expect(200);
    expect(
      (alignment.body as { rows: { newest: string }[] }).rows.map(({ newest }) => newest),
    ).toEqual(['2.1.0', '1.1.0']);
  });

  test('a registry that began to answer nonsense is named, and what it said before is kept', async () => {
    registry.nonsense = '{"cursor": 1}';
    const { body } = await refreshed();
    expect(body).toMatchObject({ registryState: { state: 'nonsense', unknown: [] } });
  });

  test('a package that nobody knows while the registry is down stops drafts, not the page', async () => {
    await registry.stop();
    await repository.commit(
      {
        'apps/web/ledger.project.toml': `${FILES['apps/web/ledger.project.toml']}fresh = "^1.0.0"\n`,
      },
      'Fresh',
    );
    const { body } = await refreshed();
    expect(body).toMatchObject({ registryState: { state: 'down', unknown: ['fresh'] } });
    const draft = await server.http.post(`/api/workspaces/${slug}/drafts`).send({}).expect(503);
    expect(draft.body).toMatchObject({ code: 'REGISTRY_INCOMPLETE' });
  });

  test('only what changed in the registry is read again', async () => {
    registry.asked.length = 0;
    await refreshed();
    expect(registry.asked).toEqual(['/changes']);
    registry.serve({ ...REGISTRY, log: { ...REGISTRY.log, '2.2.0': {} } });
    registry.asked.length = 0;
    await refreshed();
    expect(registry.asked).toEqual(['/changes', '/packages/log']);
    const { body } = await server.http.get(`/api/workspaces/${slug}/packages/log`).expect(200);
    expect((body as { row: { newest: string } }).row.newest).toBe('2.2.0');
  });

  test('the package panel shows requirements with their place, and what copies ask', async () => {
    const { body } = await server.http.get(`/api/workspaces/${slug}/packages/log`).expect(200);
    expect(body).toMatchObject({
      row: { name: 'log', agreed: '^1.0.0', off: 1, usedBy: 2, newest: '2.1.0' },
      requirements: [
        {
          project: 'kit',
          written: 'shared',
          range: '^1.0.0',
          standing: 'takes',
          isOff: false,
          place: { file: 'apps/kit/ledger.project.toml', line: 3, column: 1 },
        },
        {
          project: 'web',
          written: '^2.0.0',
          standing: 'off',
          isOff: true,
          span: { first: 2, last: 3 },
        },
      ],
    });
    await server.http.get(`/api/workspaces/${slug}/packages/nothing`).expect(404);
  });
});

test('the password in the address of a registry is used, and shown nowhere', async () => {
  const address = registry.url.replace('://', '://gate:s3cret@');
  await open({ registry: address }).expect(201);
  const shown = await Promise.all(
    ['/api/workspaces', '/api/health/parts'].map((path) => server.http.get(path).expect(200)),
  );
  for (const { text } of shown) {
    expect(text).toContain(registry.url);
    expect(text).not.toContain('s3cret');
  }
  const kept = await server.query('SELECT registries FROM workspace');
  // Opened again without them, it still has them; what is no percent sign's stands for itself.
  await open({ registry: registry.url }).expect(201);
  expect(await server.query('SELECT registries FROM workspace')).toEqual(kept);
  await open({ registry: address.replace('s3cret', 's3cret%zz') }).expect(201);
  await open({ registry: address.replace('s3cret', 's3cret%0A') }).expect(422);
  const rows = await server.query('SELECT * FROM workspace');
  expect(JSON.stringify(rows)).not.toMatch(/s3cret|gate:/);
  expect(JSON.stringify(await server.query('SELECT * FROM registry'))).not.toContain('s3cret');
});

test('workspaces that were read take a bounded memory: the one not looked at longest is read again', async () => {
  const small = await TestServer.start({ memoryBytes: 1 });
  const repositories = [await TestRepository.with(FILES), await TestRepository.with(FILES)];
  const slugs: string[] = [];
  for (const { address } of repositories) {
    const body = { address, registry: registry.url };
    const opened = await small.http.post('/api/workspaces').send(body).expect(201);
    slugs.push((opened.body as { slug: string }).slug);
  }
  const fetched = vi.spyOn(small.nest.get(GitService, { strict: false }), 'fetch');
  const read = (i: number) => small.http.get(`/api/workspaces/${slugs[i]!}/alignment`).expect(200);
  await read(1);
  await read(1);
  expect(fetched).toHaveBeenCalledTimes(0);
  const [first, again] = [await read(0), await read(0)];
  expect(fetched).toHaveBeenCalledTimes(1);
  expect(again.body).toEqual(first.body);
  await read(1);
  expect(fetched).toHaveBeenCalledTimes(2);
  await small.stop();
  for (const one of repositories) await one.remove();
});

test('workspaces with the same packages have the same records, so that work on one goes on from the other', async () => {
  const never = new AbortController().signal;
  const snapshots = server.nest.get(SnapshotService, { strict: false });
  const known = async (one: TestRepository) => {
    const opened = await open({ address: one.address }).expect(201);
    const { slug } = opened.body as { slug: string };
    const entity = await server.nest.get(WorkspaceService, { strict: false }).bySlug(slug);
    const { records } = await snapshots.material(entity, await one.head(), never);
    return { records, engine: (await snapshots.read(entity)).base.engine };
  };
  const [alike, less] = [
    await TestRepository.with({ ...FILES, 'README.md': 'other\n' }),
    await TestRepository.with({
      ...FILES,
      'ledger.shared.toml': 'format = 1\n',
      'apps/web/ledger.project.toml': 'name = "web"\n',
      'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\njson = "^1.0.0"\n',
    }),
  ];
  const first = await known(repository);
  const second = await known(alike);
  expect(second.records).toBe(first.records);
  expect(second.engine).toBe(first.engine);
  const other = await known(less);
  expect([...other.records.keys()]).toEqual(['json']);
  expect(other.engine).not.toBe(first.engine);
  await alike.remove();
  await less.remove();
});
