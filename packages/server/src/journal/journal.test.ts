import { chmod } from 'node:fs/promises';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { getDataSourceToken } from '@nestjs/typeorm';
import type { DataSource } from 'typeorm';
import { GitService } from '../git/git.service.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestRegistry } from '../test/test-registry.js';
import { TestRepository } from '../test/test-repository.js';
import { TestServer } from '../test/test-server.js';
import { PostEntity } from './post.entity.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { until } from '../test/until.js';

interface DraftBody extends SeenDraft {
  readonly id: string;
  readonly message: string;
  readonly carriedFrom: string | null;
  readonly evaluation: SeenDraft['evaluation'] & {
    readonly kind: string;
    readonly files: { readonly path: string }[];
    readonly problems: object[];
  };
}

let server: TestServer;
let registry: TestRegistry;
let repository: TestRepository;
let slug: string;

beforeAll(async () => {
  server = await TestServer.start();
  registry = await TestRegistry.with(REGISTRY);
});
afterAll(async () => {
  await server.stop();
  await registry.stop();
});
beforeEach(async () => {
  repository = await TestRepository.with(FILES);
  const opened = await server.http
    .post('/api/workspaces')
    .send({ address: repository.address, registry: registry.url })
    .expect(201);
  slug = (opened.body as { slug: string }).slug;
});
afterEach(async () => {
  await server.http.delete(`/api/workspaces/${slug}`);
  await repository.remove();
});

const at = (path: string): string => `/api/workspaces/${slug}${path}`;

async function newDraft(): Promise<DraftBody> {
  return (await server.http.post(at('/drafts')).send({ name: 'level log' }).expect(201))
    .body as DraftBody;
}

async function levelled(version = '2.1.0'): Promise<DraftBody> {
  const { id } = await newDraft();
  return (
    await server.http
      .put(at(`/drafts/${id}/packages/log`))
      .send({ version })
      .expect(200)
  ).body as DraftBody;
}

function post(draft: DraftBody, more: object = {}) {
  return server.http
    .post(at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: draft.message, ...more });
}

describe('a draft', () => {
  test('holds its edits in words, its consequences and the exact diff', async () => {
    const { body } = await server.http.get(at(`/drafts/${(await levelled()).id}`)).expect(200);
    expect(body).toMatchObject({
      name: 'level log',
      carriedFrom: null,
      edits: [
        {
          edit: { kind: 'level', projects: ['apps/web'] },
          words: {
            subject: 'log',
            verb: 'levelled',
            from: '^1.0.0',
            to: '^2.1.0',
            detail: 'in web',
          },
          problem: null,
          leftOut: null,
        },
      ],
      evaluation: {
        kind: 'answered',
        consequences: {
          outOfLineBefore: 1,
          outOfLineAfter: 0,
          copiesBefore: null,
          copiesAfter: 2,
          manifests: 2,
        },
      },
    });
    const { files } = (
      body as {
        evaluation: {
          files: {
            path: string;
            isNew: boolean;
            hunks: { lines: { mark: string; text: string }[] }[];
          }[];
        };
      }
    ).evaluation;
    expect(files.map(({ path, isNew }) => [path, isNew])).toEqual([
      ['apps/web/ledger.project.toml', false],
      ['ledger.shared.toml', false],
      ['ledger.lock', true],
    ]);
    expect(files[0]!.hunks[0]!.lines.filter(({ mark }) => mark !== 'same')).toMatchObject([
      { mark: 'removed', text: 'log = "^2.0.0"   # needs the new lines' },
      { mark: 'added', text: 'log = "shared"   # needs the new lines' },
    ]);
  });

  test('can be renamed, emptied, and thrown away; picking again replaces', async () => {
    const draft = await levelled();
    const again = await server.http
      .put(at(`/drafts/${draft.id}/packages/log`))
      .send({ version: '1.1.0' })
      .expect(200);
    expect((again.body as { edits: object[] }).edits).toMatchObject([
      { edit: { kind: 'level', range: '^1.1.0' } },
    ]);
    const { revision } = again.body as { revision: number };
    const emptied = await server.http
      .put(at(`/drafts/${draft.id}/entries`))
      .send({ revision, entries: [] })
      .expect(200);
    expect(emptied.body).toMatchObject({ edits: [], evaluation: { kind: 'answered' } });
    const renamed = await server.http
      .patch(at(`/drafts/${draft.id}`))
      .send({ name: 'other' })
      .expect(200);
    expect(renamed.body).toMatchObject({ name: 'other' });
    const list = await server.http.get(at('/drafts')).expect(200);
    expect(list.body).toMatchObject([{ name: 'other', edits: 0 }]);
    await server.http.delete(at(`/drafts/${draft.id}`)).expect(204);
    await server.http.get(at(`/drafts/${draft.id}`)).expect(404);
    const restored = await server.http.post(at(`/drafts/${draft.id}/restore`)).expect(200);
    expect(restored.body).toMatchObject({ id: draft.id, name: 'other' });
    await server.http.get(at(`/drafts/${draft.id}`)).expect(200);
  });

  test('comes back, as the journal does, when its workspace is closed and opened again', async () => {
    const posted = await post(await levelled()).expect(201);
    const draft = await newDraft();
    await server.http.delete(at('')).expect(204);
    await server.http.get(at('')).expect(404);
    const body = { address: repository.address, registry: registry.url };
    const opened = await server.http.post('/api/workspaces').send(body).expect(201);
    expect(opened.body).toMatchObject({ slug });
    await server.http.get(at(`/drafts/${draft.id}`)).expect(200);
    const { commit } = posted.body as { commit: string };
    expect((await server.http.get(at('/posts')).expect(200)).body).toMatchObject([{ commit }]);
  });

  test.each([
    [{ kind: 'set-shared', package: 'log' }, /range/],
    [
      { kind: 'set-shared', package: 'Log!', range: '1' },
      /^Edit 1, package: write the name of a package/,
    ],
    [{ kind: 'take-shared', package: 'log', projects: [] }, /projects/],
    [[], /^Edits: give an object/],
    [{ kind: 'dance', package: 'log' }, /^Edit 1, kind: choose one of/],
    [{ kind: 'set-shared', package: 'log', range: '1', more: 1 }, /more/],
  ])('refuses %j', async (edit, detail) => {
    const { id } = await newDraft();
    const { body } = await server.http
      .post(at(`/drafts/${id}/edits`))
      .send({ edits: [edit] })
      .expect(400);
    expect((body as { detail: string }).detail).toMatch(detail);
  });

  test('with a range that is none says so and cannot be posted', async () => {
    const { id } = await newDraft();
    const edits = [{ kind: 'set-shared', package: 'log', range: '^^1' }];
    const { body } = await server.http
      .post(at(`/drafts/${id}/edits`))
      .send({ edits })
      .expect(200);
    expect(body).toMatchObject({ evaluation: { kind: 'inapplicable' } });
    expect((body as { edits: { problem: string }[] }).edits[0]!.problem).toMatch(
      /"\^\^1", column 1: .* is no operator/,
    );
    const refused = await post(body as DraftBody).expect(409);
    expect(refused.body).toMatchObject({ code: 'DRAFT_NOT_POSTABLE' });
  });

  test('cannot level at a release that is not there', async () => {
    const { id } = await newDraft();
    const { body } = await server.http
      .put(at(`/drafts/${id}/packages/log`))
      .send({ version: '9.9.9' })
      .expect(422);
    expect(body).toMatchObject({ code: 'RELEASE_UNKNOWN' });
  });

  test('cannot be posted while a manifest cannot be read', async () => {
    const draft = await levelled();
    await repository.commit({ 'apps/kit/ledger.project.toml': 'name = ' }, 'Oops');
    await server.http.post(at('/refresh')).expect(200);
    const { body } = await server.http.get(at(`/drafts/${draft.id}`)).expect(200);
    expect(body).toMatchObject({
      evaluation: { kind: 'unreadable', problems: [{ code: 'SYNTAX' }] },
    });
    await post(body as DraftBody).expect(409);
  });
});

describe('a post', () => {
  test('is one commit with manifests edited in place, the shared file and the lockfile', async () => {
    const before = await repository.head();
    const { body } = await post(await levelled()).expect(201);
    const { commit } = body as { commit: string };
    expect(await repository.head()).toBe(commit);
    expect((await repository.git('rev-parse', `${commit}^`)).trim()).toBe(before);
    expect(await repository.git('log', '-1', '--format=%an|%ae|%s', commit)).toBe(
      'platform crew|platform@brindlepeak.example|Level log at ^2.1.0\n',
    );
    expect(
      (await repository.git('diff', '--name-only', before, commit)).split('\n').filter(Boolean),
    ).toEqual(['apps/web/ledger.project.toml', 'ledger.lock', 'ledger.shared.toml']);
    expect(await repository.file('apps/web/ledger.project.toml')).toBe(
      FILES['apps/web/ledger.project.toml'].replace('"^2.0.0"', '"shared"'),
    );
    expect(await repository.file('ledger.shared.toml')).toBe(
      FILES['ledger.shared.toml'].replace('^1.0.0', '^2.1.0'),
    );
    expect(await repository.git('fsck', '--strict')).toBe('');
    const state = await server.http.get(at('')).expect(200);
    expect(state.body).toMatchObject({
      head: { commit },
      outOfLine: 0,
      posts: 1,
      drafts: 0,
      lock: { state: 'consistent', reasons: [] },
    });
    const journal = await server.http.get(at('/posts')).expect(200);
    expect(journal.body).toMatchObject([
      { commit, base: before, branch: 'main', outOfLineBefore: 1, outOfLineAfter: 0, manifests: 2 },
    ]);
  });

  test('keeps the mode of a file that it edits', async () => {
    const work = await repository.workTree();
    await chmod(`${work}/ledger.shared.toml`, 0o755);
    await repository.commitFrom(work, 'Mode');
    await server.http.post(at('/refresh')).expect(200);
    await post(await levelled()).expect(201);
    expect(await repository.git('ls-tree', 'main', 'ledger.shared.toml')).toMatch(/^100755 /);
  });

  test('writes nothing when the branch moved, and the draft is carried over', async () => {
    const draft = await levelled();
    await repository.commit({ 'README.md': 'moved\n' }, 'Moved on');
    const moved = await repository.head();
    const { body } = await post(draft).expect(409);
    expect(body).toMatchObject({ code: 'BRANCH_MOVED' });
    expect((body as { detail: string }).detail).toMatch(/"Moved on", gate crew/);
    expect(await repository.head()).toBe(moved);
    const carried = (await server.http.get(at(`/drafts/${draft.id}`)).expect(200))
      .body as DraftBody;
    expect(carried).toMatchObject({ base: moved, carriedFrom: draft.base });
    const seen = await server.http
      .patch(at(`/drafts/${draft.id}`))
      .send({ base: moved })
      .expect(200);
    expect(seen.body).toMatchObject({ carriedFrom: null });
    await post(carried).expect(201);
    expect(await repository.file('README.md')).toBe('moved\n');
  });

  test('loses against a commit that slips in at the last moment', async () => {
    const git = server.nest.get(GitService);
    const writeCommit = git.writeCommit.bind(git);
    git.writeCommit = async (...args) => {
      const commit = await writeCommit(...args);
      await repository.commit({ 'README.md': 'slipped in\n' }, 'Slipped in');
      return commit;
    };
    const draft = await levelled();
    const { body } = await post(draft).expect(409);
    git.writeCommit = writeCommit;
    expect(body).toMatchObject({ code: 'BRANCH_MOVED' });
    expect(await repository.git('log', '-1', '--format=%s')).toBe('Slipped in\n');
    expect((await server.http.get(at('/posts')).expect(200)).body).toEqual([]);
    await server.http.get(at(`/drafts/${draft.id}`)).expect(200);
  });

  test('two at once: one wins, the other is told', async () => {
    const [a, b] = [await levelled('2.1.0'), await levelled('1.1.0')];
    const answers = await Promise.all([post(a), post(b)]);
    expect(answers.map(({ status }) => status).sort()).toEqual([201, 409]);
    expect((await repository.git('rev-list', '--count', 'main')).trim()).toBe('2');
  });

  test('does not move a branch under a work tree', async () => {
    const address = await repository.workTree();
    const opened = await server.http
      .post('/api/workspaces')
      .send({ address, registry: registry.url })
      .expect(201);
    const other = (opened.body as { slug: string }).slug;
    const created = await server.http.post(`/api/workspaces/${other}/drafts`).send({}).expect(201);
    const { id } = created.body as DraftBody;
    const draft = (
      await server.http
        .put(`/api/workspaces/${other}/drafts/${id}/packages/log`)
        .send({ version: '2.1.0' })
        .expect(200)
    ).body as DraftBody;
    const { body } = await server.http
      .post(`/api/workspaces/${other}/drafts/${id}/post`)
      .send({ ...seen(draft), message: 'x' })
      .expect(409);
    expect(body).toMatchObject({ code: 'POST_REFUSED' });
    expect((body as { detail: string }).detail).toMatch(/is checked out in/);
    await server.http.delete(`/api/workspaces/${other}`).expect(204);
  });

  test('of nothing is refused', async () => {
    await post(await levelled()).expect(201);
    const { body } = await post(await newDraft(), { message: 'Nothing' }).expect(409);
    expect(body).toMatchObject({ code: 'NOTHING_TO_POST' });
  });

  test.each([
    [{ message: '' }, /needs a message/],
    [{ base: 'HEAD' }, /base has to be a commit/],
  ])('refuses %j', async (more, detail) => {
    const { body } = await post(await levelled(), more).expect(400);
    expect((body as { detail: string }).detail).toMatch(detail);
  });
});

describe('a server that was killed while it posted', () => {
  /** Leaves things as they are right after the row was written, with or without the branch moved. */
  async function cutShort(hasMoved: boolean): Promise<DraftBody> {
    const draft = await levelled();
    const git = server.nest.get(GitService);
    const moveBranch = git.moveBranch.bind(git);
    git.moveBranch = async (...args) => {
      if (hasMoved) await moveBranch(...args);
      throw new Error('killed');
    };
    await post(draft);
    const database = server.nest.get<DataSource>(getDataSourceToken());
    await database.getRepository(PostEntity).update({ draftId: draft.id }, { state: 'writing' });
    await database.query(`UPDATE draft SET state = 'open' WHERE id = $1`, [draft.id]);
    await server.halt();
    await server.boot();
    return draft;
  }

  test('finds at its next start that the commit had reached the branch', async () => {
    const draft = await cutShort(true);
    const commit = await repository.head();
    // A start waits only a moment for repositories, and then goes on beside them.
    await until(async () => {
      const { body } = await server.http.get(at('/posts')).expect(200);
      expect(body).toMatchObject([{ commit }]);
    });
    await server.http.get(at(`/drafts/${draft.id}`)).expect(404);
  });

  test('finds that it had not; the draft is still there to be posted', async () => {
    const draft = await cutShort(false);
    expect((await server.http.get(at('/posts')).expect(200)).body).toEqual([]);
    await post(draft).expect(201);
  });

  test('a push that lands after all is found before its draft is posted a second time', async () => {
    const draft = await levelled();
    const git = server.nest.get(GitService);
    const moveBranch = git.moveBranch.bind(git);
    let land: () => Promise<void> = () => Promise.reject(new Error('nothing was pushed'));
    git.moveBranch = (...args) => {
      land = () => moveBranch(...args);
      return Promise.reject(new Error('no answer'));
    };
    await post(draft).expect(500);
    expect((await server.http.get(at('/posts')).expect(200)).body).toEqual([]);
    git.moveBranch = moveBranch;
    await land();
    const { body } = await post(draft).expect(404);
    expect(body).toMatchObject({ code: 'DRAFT_UNKNOWN' });
    const posts = await server.http.get(at('/posts')).expect(200);
    expect(posts.body).toMatchObject([{ commit: await repository.head() }]);
  });
});
