import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { SilentHost } from '../test/silent-host.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { GitService } from './git.service.js';

/** Long enough for a busy machine to read a small repository within it. */
const HOST_MS = 6_000;

/** Until so many calls are open at `host`: they are, or the test fails in plain sight. */
const untilOpen = (host: SilentHost, calls: number): Promise<void> =>
  vi.waitFor(() => expect(host.open).toBe(calls), 30_000);

let server: TestServer;
let world: TestWorkspace;

beforeAll(async () => {
  server = await TestServer.start({ hostMs: HOST_MS });
});
afterAll(() => server.stop());
beforeEach(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY, server);
});
afterEach(async () => {
  vi.restoreAllMocks();
  await server.http.delete(world.at(''));
  await world.stop();
});

describe('a repository whose host takes calls and says nothing', () => {
  let host: SilentHost;
  beforeEach(async () => {
    host = await SilentHost.listening();
  });
  afterEach(() => host.stop());

  test('holds up no reader; git and its helper end; after some calls the host is left alone', async () => {
    const before = await world.get<{ head: { commit: string } }>('');
    await server.query(
      `UPDATE workspace SET address = 'git://${host.place}/x.git' WHERE slug = '${world.slug}'`,
    );
    const looking = server.http.post(world.at('/refresh'));
    const looked = looking.then(({ status, body }) => ({ status, body: body as object }));
    await untilOpen(host, 1);
    for (const path of ['', '/alignment', '/journal', '/findings/count'])
      await server.http.get(world.at(path)).expect(200);
    expect(await world.get('')).toMatchObject({ head: before.head });
    // All of that was answered while the host still said nothing.
    expect(host.open).toBe(1);
    expect(await looked).toMatchObject({
      status: 422,
      body: {
        code: 'REPOSITORY_UNREADABLE',
        detail: expect.stringContaining(`no answer within ${HOST_MS / 1000} seconds`) as string,
      },
    });
    await untilOpen(host, 0);
    // Who insisted was told; everybody else still reads.
    await server.http.get(world.at('/alignment')).expect(200);
    await server.http.post(world.at('/refresh')).expect(422);
    const calls = host.called;
    const { body } = await server.http.post(world.at('/refresh')).expect(422);
    expect((body as { detail: string }).detail).toContain('left alone');
    expect(host.called).toBe(calls);
  });

  test('takes no place from another workspace', async () => {
    const other = await TestWorkspace.open(FILES, REGISTRY, server);
    await server.query(
      `UPDATE workspace SET address = 'git://${host.place}/x.git' WHERE slug = '${world.slug}'`,
    );
    const answers: unknown[] = [];
    const looked = [1, 2, 3].map(() =>
      server.http.post(world.at('/refresh')).then(({ body }) => answers.push(body)),
    );
    await vi.waitFor(
      () => expect(host.open, `answered: ${JSON.stringify(answers)}`).toBeGreaterThan(0),
      30_000,
    );
    await other.repository.commit({ 'README.md': 'changed\n' }, 'Elsewhere');
    const { body } = await server.http.post(other.at('/refresh')).expect(200);
    expect(body).toMatchObject({ head: { subject: 'Elsewhere' } });
    expect(host.open).toBeGreaterThan(0);
    await Promise.all(looked);
    await other.stop();
  });

  test('holds up no start: what became of a post that was cut short is found out once it can be', async () => {
    await world.post([{ kind: 'pin', package: 'json', version: '1.0.0' }], 'Pin json');
    const [post] = await world.get<{ id: string }[]>('/posts');
    await server.query(`UPDATE post SET state = 'writing' WHERE id = '${post!.id}'`);
    const { address } = world.repository;
    const setAddress = (to: string) =>
      server.query(`UPDATE workspace SET address = '${to}' WHERE slug = '${world.slug}'`);
    await setAddress(`git://${host.place}/x.git`);
    await server.halt();
    await server.boot();
    // It has asked, and has begun to serve without the answer.
    await untilOpen(host, 1);
    await server.http.get('/api/health').expect(200);
    expect(host.open).toBe(1);
    await setAddress(address);
    await untilOpen(host, 0);
    await vi.waitFor(
      async () => expect(await world.get('/posts')).toMatchObject([{ id: post!.id }]),
      30_000,
    );
  });

  test('a push that nobody answers is given up; what came of it is said, and the draft stays', async () => {
    const created = await server.http.post(world.at('/drafts')).send({}).expect(201);
    const { id } = created.body as { id: string };
    const edits = [{ kind: 'pin', package: 'json', version: '1.0.0' }];
    const { body } = await server.http
      .post(world.at(`/drafts/${id}/edits`))
      .send({ edits })
      .expect(200);
    const draft = body as {
      base: string;
      revision: number;
      evaluation: { consequences: { sum: string } };
    };
    const git = server.nest.get(GitService);
    const moveBranch = git.moveBranch.bind(git);
    vi.spyOn(git, 'moveBranch').mockImplementation((repository, ...rest) =>
      moveBranch({ ...repository, address: `git://${host.place}/x.git` }, ...rest),
    );
    const { base, revision, evaluation } = draft;
    const posted = server.http
      .post(world.at(`/drafts/${id}/post`))
      .send({ base, revision, sum: evaluation.consequences.sum, message: 'Pin json' });
    const answered = posted.then((answer) => answer);
    await untilOpen(host, 1);
    await server.http.get(world.at('/journal')).expect(200);
    await server.http.get(world.at('/posts')).expect(200);
    expect(host.open).toBe(1);
    const answer = await answered;
    expect(answer.status).toBe(504);
    expect(answer.body).toMatchObject({ code: 'POST_UNCERTAIN' });
    await untilOpen(host, 0);
    expect(await world.get('/posts')).toEqual([]);
    await world.get(`/drafts/${id}`);
  });
});
