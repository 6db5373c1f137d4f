import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { JobsService } from './jobs/jobs.service.js';
import { FILES, REGISTRY } from './test/small-world.js';
import { PASSWORD, TestServer, type SignedIn } from './test/test-server.js';
import { TestWorkspace } from './test/test-workspace.js';
import { WorkspaceService } from './workspaces/workspace.service.js';
import { until } from './test/until.js';

let world: TestWorkspace;
let server: TestServer;

beforeAll(async () => {
  server = await TestServer.start({ trustedHops: 1 });
  world = await TestWorkspace.open(FILES, REGISTRY, server);
});
afterAll(async () => {
  await world.stop();
  await server.stop();
});

describe('a request from elsewhere', () => {
  const signIn = { name: 'platform', password: PASSWORD };

  test('as a form is not taken, whatever it says', async () => {
    for (const type of ['application/x-www-form-urlencoded', 'text/plain', 'multipart/form-data']) {
      const { body } = await server.stranger
        .post('/api/session')
        .set('content-type', type)
        .send(JSON.stringify(signIn))
        .expect(415);
      expect(body).toMatchObject({ code: 'JSON_ONLY' });
    }
  });

  test('from a page of another origin is refused; from our own, and from no browser, it is not', async () => {
    const from = (origin: string) =>
      server.stranger.post('/api/session').set('origin', origin).send(signIn);
    for (const origin of ['http://elsewhere.example', 'null', 'http://127.0.0.1:1'])
      expect((await from(origin).expect(403)).body).toMatchObject({ code: 'ORIGIN_REFUSED' });
    await from(server.settings.publicUrl).expect(200);
    await server.stranger.post('/api/session').send(signIn).expect(200);
  });
});

describe('an answer', () => {
  test('is kept by nobody, unless its route has an entity tag', async () => {
    const plain = await server.http.get(world.at('')).expect(200);
    expect(plain.headers['cache-control']).toBe('no-store');
    const tagged = await server.http.get(world.at('/alignment')).expect(200);
    expect(tagged.headers['cache-control']).toBe('private, no-cache');
  });

  test('to HEAD is that to GET without its body, and leaves no record', async () => {
    const entries = async () =>
      ((await server.http.get('/api/audit').expect(200)).body as { entries: object[] }).entries
        .length;
    const before = await entries();
    const head = await server.http.head(world.at('/posts')).expect(200);
    expect(head.text).toBeUndefined();
    await server.http.head('/api/workspaces').expect(200);
    expect(await entries()).toBe(before);
  });

  test('is packed where it is long', async () => {
    const long = await server.http
      .get('/api/openapi.json')
      .set('accept-encoding', 'gzip')
      .expect(200);
    expect(long.headers['content-encoding']).toBe('gzip');
  });
});

describe('a text that is none', () => {
  test.each([
    ['in a body', () => server.http.post(world.at('/drafts')).send({ name: 'a\u0000b' })],
    [
      'deep in a body',
      () =>
        server.http
          .post(world.at('/what-if'))
          .send({ edits: [{ kind: 'pin', package: 'log', version: '\ud800' }] }),
    ],
    ['in an address', () => server.http.get(world.at('/packages/lo%00g'))],
    ['in a question', () => server.http.get(world.at('/file?path=a%00b'))],
    ['in the name of a project', () => server.http.get(world.at('/project?folder=%00'))],
  ])('%s is refused in a sentence', async (_, ask) => {
    const { body } = await ask().expect(400);
    expect((body as { detail: string }).detail).toContain('character');
  });

  test.each(['HEAD', '@', 'a..b', '-x', 'a.lock', 'a.lock/b', 'a b', 'x/'])(
    'a branch cannot be called %s',
    async (branch) => {
      const body = { address: world.repository.address, registry: world.registry.url, branch };
      const { body: told } = await server.http.post('/api/workspaces').send(body).expect(400);
      expect((told as { detail: string }).detail).toContain('A branch name has');
    },
  );

  test.each(['...', '"', ' , ', "'", '<>', '\t', '\u200b\u0007'])(
    'nobody can be called %j, which git would refuse as an author',
    async (shownName) => {
      await server.http
        .post('/api/accounts')
        .send({ name: 'fir', shownName, email: 'fir@brindlepeak.example', role: 'reader' })
        .expect(400);
      await server.http
        .post(world.at('/tokens'))
        .send({ name: shownName, scopes: ['read'], lastDay: '2025-12-31' })
        .expect(400);
    },
  );
});

describe('attempts that fail', () => {
  test('from one address do not lock a name for its owner at another', async () => {
    await server.signedIn('marmot', 'reader');
    const from = (address: string, password: string) =>
      server.stranger
        .post('/api/session')
        .set('x-forwarded-for', address)
        .send({ name: 'marmot', password });
    for (let i = 0; i < 5; i++) await from('192.0.2.1', `wrong ${i}`).expect(401);
    await from('192.0.2.1', PASSWORD).expect(429);
    await from('192.0.2.2', PASSWORD).expect(200);
  });

  test('at one-time links are counted before anything is hashed', async () => {
    const from = () =>
      server.stranger
        .post('/api/one-time-link/password')
        .set('x-forwarded-for', '192.0.2.3')
        .send({ secret: 'x'.repeat(43), password: 'a long password' });
    for (let i = 0; i < 5; i++) await from().expect(403);
    await from().expect(429);
  });

  test('at one’s own password are counted', async () => {
    const mine = await server.signedIn('chough', 'reader');
    const change = (now: string) =>
      server
        .as(mine)
        .put('/api/session/password')
        .set('x-forwarded-for', '192.0.2.4')
        .send({ now, password: 'under the third lift' });
    for (let i = 0; i < 5; i++) await change(`guess ${i}`).expect(422);
    await change(PASSWORD).expect(429);
  });
});

describe('the stream of events', () => {
  const stream = async ({ cookie }: SignedIn) => {
    const response = await fetch(`${server.url}${world.at('/events')}`, { headers: { cookie } });
    expect(response.status).toBe(200);
    return response.body!.getReader();
  };

  interface Told {
    readonly topic: string;
    readonly job?: { readonly state: string };
  }

  /** Reads to its end, and keeps what has been told so far. */
  function listenTo(reader: ReadableStreamDefaultReader<Uint8Array>) {
    let text = '';
    const read = async (): Promise<void> => {
      const decoder = new TextDecoder();
      for (let part = await reader.read(); !part.done; part = await reader.read())
        text += decoder.decode(part.value, { stream: true });
    };
    const events = (): Told[] =>
      text
        .split('\n\n')
        .slice(0, -1)
        .flatMap((event) => /^data: (\{.*)$/mu.exec(event)?.[1] ?? [])
        .map((data) => JSON.parse(data) as Told);
    return { ended: read(), events };
  }

  test('of somebody who is disabled ends', async () => {
    const mine = await server.signedIn('ptarmigan', 'reader');
    const reader = await stream(mine);
    const { body } = await server.as(mine).get('/api/session');
    const { id } = (body as { account: { id: string } }).account;
    await server.http.patch(`/api/accounts/${id}`).send({ isActive: false }).expect(200);
    await listenTo(reader).ended;
  });

  test('tells of a job how it stands, and ends with the server', async () => {
    const mine = await server.signedIn('ibex', 'reader');
    const { ended, events } = listenTo(await stream(mine));
    await server.http.post(world.at('/drafts')).send({}).expect(201);
    const jobs = server.nest.get(JobsService, { strict: false });
    const workspaces = server.nest.get(WorkspaceService, { strict: false });
    jobs.register('scan', (_entity, _key, { progress }) => progress(2, 2));
    await jobs.begin(await workspaces.bySlug(world.slug), 'scan', 'told');
    const states = (): string[] => events().flatMap(({ job }) => job?.state ?? []);
    await until(() => expect(states()).toContain('done'));
    await server.halt();
    await ended;
    await server.boot();
    expect(events()).toContainEqual({ topic: 'drafts' });
    expect(states()[0]).toBe('running');
    expect(states().at(-1)).toBe('done');
  });
});
