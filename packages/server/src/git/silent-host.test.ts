import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test, vi } from 'vitest';
import { seen } from '../test/seen-draft.js';
import { SilentHost } from '../test/silent-host.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { GitService } from './git.service.js';
import { until } from '../test/until.js';

/** Until so many calls are open at `host`: they are, or the test fails in plain sight. */
const untilOpen = (host: SilentHost, calls: number): Promise<void> =>
  until(() => expect(host.open).toBe(calls));

let server: TestServer;
let world: TestWorkspace;
let host: SilentHost;

/** Each test has a workspace and a silent host, at a server that waits so long for a host. */
function atServerWaiting(hostMs: number): void {
  beforeAll(async () => {
    server = await TestServer.start({ hostMs });
  });
  afterAll(() => server.stop());
  beforeEach(async () => {
    world = await TestWorkspace.open(FILES, REGISTRY, server);
    host = await SilentHost.listening();
  });
  afterEach(async () => {
    vi.restoreAllMocks();
    await host.stop();
    await server.http.delete(world.at(''));
    await world.stop();
  });
}

const setAddress = (to: string) =>
  server.query(`UPDATE workspace SET address = '${to}' WHERE slug = '${world.slug}'`);
const fallSilent = () => setAddress(`git://${host.place}/x.git`);

/** A post whose push goes to the silent host; what it is answered. */
async function postedIntoSilence() {
  const draft = await world.drafted([{ kind: 'pin', package: 'json', version: '1.0.0' }]);
  const git = server.nest.get(GitService);
  const moveBranch = git.moveBranch.bind(git);
  vi.spyOn(git, 'moveBranch').mockImplementation((repository, ...rest) =>
    moveBranch({ ...repository, address: `git://${host.place}/x.git` }, ...rest),
  );
  const order = server.http
    .post(world.at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: 'Pin json' });
  return { draft: draft.id, answer: order.then((answer) => answer) };
}

describe('while the host of a repository takes calls and says nothing', () => {
  // It ends with the host, however long a busy machine takes until then.
  atServerWaiting(600_000);

  test('no reader is held up', async () => {
    const before = await world.get<{ head: { commit: string } }>('');
    await fallSilent();
    const looked = server.http.post(world.at('/refresh')).then(({ status }) => status);
    await untilOpen(host, 1);
    for (const path of ['', '/alignment', '/journal', '/findings/count'])
      await server.http.get(world.at(path)).expect(200);
    expect(await world.get('')).toMatchObject({ head: before.head });
    // All of that was answered while the host still said nothing.
    expect(host.open).toBe(1);
    await host.stop();
    expect(await looked).toBe(422);
  });

  test('no place is taken from another workspace', async () => {
    const other = await TestWorkspace.open(FILES, REGISTRY, server);
    await fallSilent();
    const answers: unknown[] = [];
    const looked = [1, 2, 3].map(() =>
      server.http.post(world.at('/refresh')).then(({ body }) => answers.push(body)),
    );
    await until(() => expect({ open: host.open, answers }).toEqual({ open: 1, answers: [] }));
    await other.repository.commit({ 'README.md': 'changed\n' }, 'Elsewhere');
    const { body } = await server.http.post(other.at('/refresh')).expect(200);
    expect(body).toMatchObject({ head: { subject: 'Elsewhere' } });
    expect(answers).toEqual([]);
    await host.stop();
    await Promise.all(looked);
    await other.stop();
  });

  test('no start is held up: what became of a post that was cut short is found out once it can be', async () => {
    await world.post([{ kind: 'pin', package: 'json', version: '1.0.0' }], 'Pin json');
    const [post] = await world.get<{ id: string }[]>('/posts');
    await server.query(`UPDATE post SET state = 'writing' WHERE id = '${post!.id}'`);
    await fallSilent();
    await server.halt();
    await server.boot();
    // It has asked, and has begun to serve without the answer.
    await untilOpen(host, 1);
    await server.http.get('/api/health').expect(200);
    expect(host.open).toBe(1);
    await setAddress(world.repository.address);
    await host.stop();
    await until(async () => expect(await world.get('/posts')).toMatchObject([{ id: post!.id }]));
  });

  test('a push is no hindrance to readers', async () => {
    const { answer } = await postedIntoSilence();
    await untilOpen(host, 1);
    await server.http.get(world.at('/journal')).expect(200);
    await server.http.get(world.at('/posts')).expect(200);
    expect(host.open).toBe(1);
    await host.stop();
    expect(await answer).toMatchObject({ status: 409, body: { code: 'POST_REFUSED' } });
  });
});

describe('a host that says nothing for longer than the server waits', () => {
  // Long enough for a busy machine to read a small repository within it.
  atServerWaiting(6_000);

  test('is given up, with git and its helper, and after some calls left alone; who insisted is told', async () => {
    await fallSilent();
    const look = () => server.http.post(world.at('/refresh')).expect(422);
    expect((await look()).body).toMatchObject({
      code: 'REPOSITORY_UNREADABLE',
      detail: expect.stringContaining('no answer within 6 seconds') as string,
    });
    await untilOpen(host, 0);
    // Everybody else still reads.
    await server.http.get(world.at('/alignment')).expect(200);
    await look();
    await untilOpen(host, 0);
    const calls = host.called;
    expect((await look()).body).toMatchObject({
      detail: expect.stringContaining('left alone') as string,
    });
    expect(host.called).toBe(calls);
  });

  test('has a push given up; what came of it is said, and the draft stays', async () => {
    const { draft, answer } = await postedIntoSilence();
    expect(await answer).toMatchObject({ status: 504, body: { code: 'POST_UNCERTAIN' } });
    await untilOpen(host, 0);
    expect(await world.get('/posts')).toEqual([]);
    await world.get(`/drafts/${draft}`);
  });
});
