import { afterAll, beforeAll, expect, inject, test } from 'vitest';
import { pause, Servers, type Answer } from './test/servers.js';

const PACKAGES = Array.from({ length: 12 }, (_, i) => `elm-${i + 1}`);
const FILES = {
  'ledger.toml': 'format = 1\nname = "small"\nprojects = ["apps/*"]\nregistry = "main"\n',
  'ledger.shared.toml': 'format = 1\n[shared]\n',
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nelm-1 = "^1.0.0"\n',
};
/** A kill takes seconds, so there are fewer than there are cases of other random tests. */
const ROUNDS = Math.ceil(inject('runs') / 100);

interface Draft {
  readonly id: string;
  readonly base: string;
  readonly revision: number;
  readonly evaluation: { readonly consequences: { readonly sum: string } | null };
}

let servers: Servers;
let slug: string;

const at = (path: string): string => `/api/workspaces/${slug}${path}`;

/** The registry's document of a package with two releases. */
function document(name: string): object {
  const release = (version: string) => ({
    version,
    published: '2024-01-01T00:00:00Z',
    archive: {
      path: `/archives/${name}/${version}`,
      integrity: `sha512-${'A'.repeat(86)}==`,
      bytes: 1,
    },
  });
  return { name, releases: [release('1.0.0'), release('2.0.0')] };
}

async function draftWith(server: number, name: string, edit: object): Promise<Draft> {
  const created = await servers.ask<Draft>(server, 'POST', at('/drafts'), { name });
  const { body } = await servers.ask<Draft>(
    server,
    'POST',
    at(`/drafts/${created.body.id}/edits`),
    { edits: [edit] },
  );
  return body;
}

function post(server: number, draft: Draft, message: string): Promise<Answer> {
  const { id, base, revision, evaluation } = draft;
  const sum = evaluation.consequences!.sum;
  const body = { base, revision, sum, message };
  return servers.ask(server, 'POST', at(`/drafts/${id}/post`), body);
}

/** Posts until it is in, by this or another hand, looking at the draft again each time the branch has moved. */
async function postInTheEnd(server: number, draft: Draft, message: string): Promise<number> {
  let seen = draft;
  for (let i = 0; i < 60; i++) {
    const { status, body } = await post(server, seen, message);
    if (status === 201) return i;
    const { code } = body as { code: string };
    if (code === 'DRAFT_UNKNOWN') return i;
    if (code !== 'BRANCH_MOVED' && code !== 'POST_UNDER_WAY') throw new Error(JSON.stringify(body));
    const now = await servers.ask<Draft>(server, 'GET', at(`/drafts/${draft.id}`));
    if (now.status === 200) seen = now.body;
  }
  throw new Error('it never came in');
}

beforeAll(async () => {
  const documents = Object.fromEntries(PACKAGES.map((name) => [name, document(name)]));
  servers = await Servers.start(FILES, documents, { servers: 2, workers: 2 });
  const { body } = await servers.ask<{ slug: string }>(0, 'POST', '/api/workspaces', {
    address: servers.repository,
    registry: servers.registryUrl,
  });
  ({ slug } = body);
}, 120_000);
afterAll(() => servers.stop(), 60_000);

test('posts that race from two servers are all there, once each', async () => {
  const messages = PACKAGES.slice(1).map((name) => `Require ${name}`);
  const drafts = await Promise.all(
    PACKAGES.slice(1).map((name, i) =>
      draftWith(i % 2, name, {
        kind: 'add-requirement',
        package: name,
        range: '^1.0.0',
        as: 'runtime',
        projects: ['apps/web'],
      }),
    ),
  );
  await Promise.all(drafts.map((draft, i) => postInTheEnd(i % 2, draft, messages[i]!)));
  const subjects = (await servers.git('log', '--format=%s', 'main')).split('\n');
  expect([...subjects].sort()).toEqual(['First', ...messages].sort());
  const posts = await servers.query(`SELECT "commit" FROM "post" WHERE "state" = 'posted'`);
  const commits = await servers.git('log', '--format=%H', '-11', 'main');
  expect(posts.split('\n').sort()).toEqual(commits.split('\n').sort());
  const { body } = await servers.ask(1, 'GET', at(''));
  expect(body).toMatchObject({ lock: { state: 'consistent', copies: 12 } });
}, 180_000);

test('one draft that both servers post at once is posted once', async () => {
  const draft = await draftWith(0, 'both', {
    kind: 'pin',
    package: 'elm-2',
    version: '1.0.0',
  });
  const answers = await Promise.all([post(0, draft, 'Pin elm-2'), post(1, draft, 'Pin elm-2')]);
  expect(answers.map(({ status }) => status).sort()).not.toEqual([201, 201]);
  expect(answers.some(({ status }) => status === 201)).toBe(true);
  const subjects = await servers.git('log', '--format=%s', 'main');
  expect(subjects.match(/Pin elm-2/g)).toHaveLength(1);
}, 60_000);

test('work that a killed worker had begun is done by another', async () => {
  const history = async () =>
    (await servers.ask<{ job: object | null; commits: object[] }>(0, 'GET', at('/lock'))).body;
  await history();
  const restart = await servers.kill('worker', 0);
  for (let i = 0; (await history()).job !== null; i++) {
    expect(i, 'the history was never worked out').toBeLessThan(500);
    await pause(200);
  }
  expect((await history()).commits.length).toBe(11);
  await restart();
}, 120_000);

test(`${ROUNDS} kills in the middle of a post leave repository and database agreeing`, async () => {
  let state = inject('seed');
  const random = (): number => {
    state = (Math.imul(state, 1103515245) + 12345) & 0x7fffffff;
    return state / 0x7fffffff;
  };
  const reached = { before: 0, after: 0 };
  for (let round = 0; round < ROUNDS; round++) {
    const message = `Round ${round}`;
    const draft = await draftWith(0, message, {
      kind: 'set-range',
      package: 'elm-1',
      range: round % 2 === 0 ? '^2.0.0' : '^1.0.0',
      projects: ['apps/web'],
    });
    const answer = post(0, draft, message).catch(() => null);
    await pause(random() * 500);
    const restart =
      round % 3 === 1
        ? await servers.killDatabase()
        : round % 3 === 2
          ? await servers.kill('worker', round % 2)
          : await servers.kill('server', 0);
    await answer;
    // Another server is asked meanwhile, as people would.
    await servers.ask(1, 'GET', at('/posts')).catch(() => null);
    await restart();
    const where = `round ${round}`;
    const stand = await agreement(message, draft.id);
    expect(stand, where).toBeOneOf([LANDED, NOT_LANDED]);
    reached[stand === LANDED ? 'after' : 'before'] += 1;
    // A push outlives the server that began it, so the draft may be in after all.
    if (stand === NOT_LANDED) await postInTheEnd(1, draft, message);
    expect(await agreement(message, draft.id), where).toBe(LANDED);
    expect(await servers.git('log', '-1', '--format=%s', 'main'), where).toBe(message);
  }
  const { body } = await servers.ask(0, 'GET', at(''));
  expect(body).toMatchObject({ lock: { state: 'consistent' } });
  expect(await servers.git('fsck', '--no-dangling')).toBe('');
  process.stderr.write(`${reached.after} of them had reached the branch\n`);
}, 1_800_000);

const LANDED = 'in git: 1; posted: 1; being written: 0; draft: posted';
const NOT_LANDED = 'in git: 0; posted: 0; being written: 0; draft: open';

/** Where repository and database stand on a post, as soon as they agree; after a minute, where they stand then. */
async function agreement(message: string, draft: string): Promise<string> {
  let stand = '';
  for (let i = 0; i < 600; i++) {
    await servers.ask(0, 'GET', at('/posts')).catch(() => null);
    const subjects = (await servers.git('log', '--format=%s', 'main')).split('\n');
    const inGit = subjects.filter((subject) => subject === message).length;
    const [posted, writing, state] = (
      await servers.query(
        `SELECT count(*) FILTER (WHERE "state" = 'posted'), count(*) FILTER (WHERE "state" = 'writing'),
           (SELECT "state" FROM "draft" WHERE "id" = '${draft}') FROM "post" WHERE "draft_id" = '${draft}'`,
      )
    ).split(' ');
    stand = `in git: ${inGit}; posted: ${posted}; being written: ${writing}; draft: ${state}`;
    if (stand === LANDED || stand === NOT_LANDED) break;
    await pause(100);
  }
  return stand;
}
