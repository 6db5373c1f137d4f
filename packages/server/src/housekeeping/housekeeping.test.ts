import { readdir } from 'node:fs/promises';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { GitFailed } from '../git/git-clones.js';
import { GitHosts } from '../git/git-hosts.js';
import { GitService } from '../git/git.service.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { Housekeeping } from './housekeeping.service.js';

let world: TestWorkspace;
let other: TestWorkspace;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
  other = await TestWorkspace.open(FILES, REGISTRY, world.server);
});
afterAll(async () => {
  await other.stop();
  await world.stop();
});

const count = async (what: string): Promise<number> => {
  const [row] = (await world.server.query(`SELECT count(*)::int AS n FROM ${what}`)) as {
    n: number;
  }[];
  return row!.n;
};

test('what is too old, or belongs to nothing any more, goes; the rest stays', async () => {
  const { server } = world;
  const mine = await server.signedIn('fox', 'reader');
  await server.query(
    `UPDATE session SET created_at = now() - interval '15 days'
     WHERE account_id = (SELECT id FROM account WHERE name = 'fox')`,
  );
  await server.query(`INSERT INTO one_time_link VALUES ('old', NULL, now() - interval '8 days')`);
  await server.query(`INSERT INTO one_time_link VALUES ('new', NULL, now())`);
  await server.query(
    `INSERT INTO package_document (registry_url, name, sum, is_outdated, fetched_at)
     VALUES ('${world.registry.url}', 'nothing', '', false, now() - interval '2 days')`,
  );
  await world.get('/findings/count');
  await server.http.delete(other.at('')).expect(204);
  const clones = join(server.settings.dataFolder, 'git');
  const documents = await count(`package_document WHERE registry_url = '${world.registry.url}'`);
  await server.nest.get(Housekeeping, { strict: false }).tidy();
  await server.as(mine).get('/api/accounts').expect(401);
  expect(await count(`session WHERE created_at < now() - interval '14 days'`)).toBe(0);
  expect(await count(`session`)).toBeGreaterThan(0);
  expect(await server.query('SELECT hash FROM one_time_link')).toEqual([{ hash: 'new' }]);
  expect(await count(`package_document WHERE registry_url = '${world.registry.url}'`)).toBe(
    documents - 1,
  );
  expect(await count(`package_document WHERE registry_url = '${other.registry.url}'`)).toBe(0);
  expect(await readdir(clones)).toHaveLength(1);
  await world.get('/alignment');
});

test('a full disk stops posts with a word; what was read is still shown', async () => {
  const { server } = world;
  const full = new GitFailed('fetch', {
    exitCode: 128,
    stdout: Buffer.alloc(0),
    stderr: 'fatal: write error: No space left on device',
  });
  const created = await server.http.post(world.at('/drafts')).send({}).expect(201);
  const { id } = created.body as { id: string };
  const { body } = await server.http
    .post(world.at(`/drafts/${id}/edits`))
    .send({ edits: [{ kind: 'pin', package: 'json', version: '1.0.0' }] })
    .expect(200);
  const git = server.nest.get(GitService, { strict: false });
  const writing = vi.spyOn(git, 'writeCommit').mockRejectedValue(full);
  const post = await server.http
    .post(world.at(`/drafts/${id}/post`))
    .send({ ...seen(body as SeenDraft), message: 'Pin json' })
    .expect(507);
  expect(post.body).toMatchObject({ code: 'DISK_FULL' });
  writing.mockRestore();
  // Begun anew, so that nothing is kept in memory.
  await server.halt();
  await server.boot();
  vi.spyOn(server.nest.get(GitHosts, { strict: false }), 'call').mockRejectedValue(full);
  const state = await world.get<{ repositoryTrouble: string }>('');
  expect(state.repositoryTrouble).toContain('No space left on device');
  await world.get('/alignment');
  vi.restoreAllMocks();
});
