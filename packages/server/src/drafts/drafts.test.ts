import { execa } from 'execa';
import { afterAll, afterEach, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestRegistry } from '../test/test-registry.js';
import { TestRepository } from '../test/test-repository.js';
import { TestServer } from '../test/test-server.js';
import { seen } from '../test/seen-draft.js';

interface DraftBody {
  readonly id: string;
  readonly base: string;
  readonly author: string;
  readonly isMine: boolean;
  readonly message: string;
  readonly revision: number;
  readonly canUndo: boolean;
  readonly canRedo: boolean;
  readonly edits: {
    readonly edit: { readonly kind: string };
    readonly isOut: boolean;
    readonly problem: string | null;
    readonly words: { readonly subject: string; readonly verb: string };
  }[];
  readonly evaluation: {
    readonly kind: string;
    readonly files: { readonly path: string }[];
    readonly consequences: {
      readonly sum: string;
      readonly levelled: string[];
      readonly projects: string[];
      readonly change: { readonly because: { readonly name: string; readonly causes: string[] }[] };
    } | null;
  };
}

let server: TestServer;
let registry: TestRegistry;
let repository: TestRepository;
let slug: string;

beforeAll(async () => {
  server = await TestServer.start();
  registry = await TestRegistry.with({ ...REGISTRY, extra: { '1.0.0': { json: '^1.0.0' } } });
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

async function draftWith(...edits: readonly object[]): Promise<DraftBody> {
  const created = await server.http.post(at('/drafts')).send({ name: 'work' }).expect(201);
  return edits.length === 0 ? (created.body as DraftBody) : add(created.body as DraftBody, edits);
}

async function add({ id }: DraftBody, edits: readonly object[]): Promise<DraftBody> {
  const { body } = await server.http.post(at(`/drafts/${id}/edits`)).send({ edits });
  return body as DraftBody;
}

const RANGE = { kind: 'set-range', package: 'log', range: '^2.1.0', projects: ['apps/web'] };
const PIN = { kind: 'pin', package: 'json', version: '1.0.0' };
const verbs = ({ edits }: DraftBody): readonly string[] => edits.map(({ words }) => words.verb);

describe('edits of a draft', () => {
  test('of every kind are taken, kept in order, told in words, and make one commit', async () => {
    const draft = await draftWith(
      RANGE,
      PIN,
      { kind: 'unpin', package: 'json' },
      { kind: 'set-shared', package: 'json', range: '^1.0.0' },
      { kind: 'take-shared', package: 'json', projects: ['apps/web', 'apps/kit'] },
      { kind: 'make-set', set: 'pair', range: '^1.0.0', packages: ['json'] },
      { kind: 'dissolve-set', set: 'pair' },
      { kind: 'retire-shared', package: 'json' },
      {
        kind: 'add-requirement',
        package: 'extra',
        range: '^1.0.0',
        as: 'dev',
        projects: ['apps/kit'],
      },
      { kind: 'change-kind', package: 'extra', as: 'runtime', projects: ['apps/kit'] },
      { kind: 'remove-requirement', package: 'json', projects: ['apps/web'] },
      { kind: 'everywhere', package: 'json', range: '^1.0.0', as: 'dev', except: ['kit'] },
      { kind: 'not-everywhere', package: 'json' },
      {
        kind: 'grant-exception',
        project: 'web',
        package: 'log',
        range: '^2.0.0',
        reason: 'tests',
        owner: 'web crew',
        until: '2026-01-01',
      },
      { kind: 'end-exception', project: 'web', package: 'log' },
      { kind: 'set-policy', package: null, setting: 'minimum-age-days', value: '3' },
      { kind: 'set-policy', package: 'log', setting: 'copies', value: 'any' },
      { kind: 'set-platform', name: 'runtime', version: '20.1.0' },
      { kind: 'refresh', packages: [] },
    );
    expect(draft.edits.map(({ problem }) => problem).filter((one) => one !== null)).toEqual([]);
    expect(draft.evaluation.kind).toBe('answered');
    expect(draft.evaluation.consequences!.projects).toEqual(['apps/kit', 'apps/web']);
    expect(new Set(verbs(draft)).size).toBe(19);
    await server.http
      .post(at(`/drafts/${draft.id}/post`))
      .send({ ...seen(draft), message: draft.message })
      .expect(201);
    expect(await repository.file('apps/kit/ledger.project.toml')).toContain('extra = "^1.0.0"');
    expect(await repository.file('ledger.toml')).toContain('minimum-age-days = 3');
  });

  test('can be taken out, put back and reordered; only those that count are evaluated', async () => {
    const draft = await draftWith(RANGE, PIN);
    const [first, second] = draft.edits.map(({ edit }) => edit);
    const changed = await server.http
      .put(at(`/drafts/${draft.id}/entries`))
      .send({
        revision: draft.revision,
        entries: [
          { edit: second, isOut: false },
          { edit: first, isOut: true },
        ],
      })
      .expect(200);
    const body = changed.body as DraftBody;
    expect(body.edits.map(({ edit, isOut }) => [edit.kind, isOut])).toEqual([
      ['pin', false],
      ['set-range', true],
    ]);
    expect(body.evaluation.files.map(({ path }) => path)).toEqual([
      'ledger.shared.toml',
      'ledger.lock',
    ]);
    expect(body.message).not.toMatch(/log/);
  });

  test('can be undone and done again, after a restart too; a new change ends what was undone', async () => {
    let draft = await draftWith(RANGE);
    draft = await add(draft, [PIN]);
    const step = async (way: 'undo' | 'redo', status = 200): Promise<DraftBody> =>
      (await server.http.post(at(`/drafts/${draft.id}/${way}`)).expect(status)).body as DraftBody;
    expect([draft.canUndo, draft.canRedo]).toEqual([true, false]);
    expect(verbs(await step('undo'))).toHaveLength(1);
    await server.halt();
    await server.boot();
    expect(verbs(await step('undo'))).toEqual([]);
    expect((await step('undo', 409)) as object).toMatchObject({ code: 'NOTHING_TO_UNDO' });
    expect(verbs(await step('redo'))).toHaveLength(1);
    const again = await step('redo');
    expect(verbs(again)).toHaveLength(2);
    await step('undo');
    const branched = await add(draft, [{ kind: 'unpin', package: 'json' }]);
    expect(branched.canRedo).toBe(false);
    await step('redo', 409);
  });

  test('undo takes back only one’s own change, and a draft says whose it is', async () => {
    const draft = await add(await draftWith(RANGE), [PIN]);
    expect(draft).toMatchObject({ isMine: true, canUndo: true });
    const other = await server.signedIn('kiosk', 'editor');
    const theirs = server.as(other);
    const seen = await theirs.get(at(`/drafts/${draft.id}`)).expect(200);
    expect(seen.body).toMatchObject({ isMine: false, canUndo: false, author: 'platform crew' });
    const refused = await theirs.post(at(`/drafts/${draft.id}/undo`)).expect(409);
    expect(refused.body).toMatchObject({ code: 'NOT_YOUR_CHANGE' });
    await theirs
      .post(at(`/drafts/${draft.id}/edits`))
      .send({ edits: [{ kind: 'unpin', package: 'json' }] })
      .expect(200);
    const mine = await server.http.get(at(`/drafts/${draft.id}`)).expect(200);
    expect(mine.body).toMatchObject({ canUndo: false });
    await theirs.post(at(`/drafts/${draft.id}/undo`)).expect(200);
    const undone = await server.http.post(at(`/drafts/${draft.id}/undo`)).expect(200);
    expect(verbs(undone.body as DraftBody)).toHaveLength(1);
  });

  test('that two windows change: the later of them is told, and loses nothing of the other', async () => {
    const draft = await draftWith(RANGE);
    await add(draft, [PIN]);
    const { body } = await server.http
      .put(at(`/drafts/${draft.id}/entries`))
      .send({ revision: draft.revision, entries: [] })
      .expect(409);
    expect(body).toMatchObject({ code: 'DRAFT_CHANGED' });
    const now = await server.http.get(at(`/drafts/${draft.id}`)).expect(200);
    expect((now.body as DraftBody).edits).toHaveLength(2);
  });

  test('added by two at once are both kept', async () => {
    const draft = await draftWith();
    await Promise.all([add(draft, [RANGE]), add(draft, [PIN])]);
    const now = await server.http.get(at(`/drafts/${draft.id}`)).expect(200);
    expect((now.body as DraftBody).edits).toHaveLength(2);
    expect((now.body as DraftBody).author).toBe('platform crew');
  });

  test('do not disturb another draft', async () => {
    const [mine, theirs] = [await draftWith(RANGE), await draftWith(PIN)];
    await add(mine, [PIN]);
    const now = await server.http.get(at(`/drafts/${theirs.id}`)).expect(200);
    expect((now.body as DraftBody).edits).toHaveLength(1);
    const list = await server.http.get(at('/drafts')).expect(200);
    expect(list.body).toMatchObject([{ edits: 2 }, { edits: 1 }]);
  });

  test('about a package that the registry does not have are explained', async () => {
    const draft = await draftWith({
      kind: 'add-requirement',
      package: 'nowhere',
      range: '^1.0.0',
      as: 'runtime',
      projects: ['apps/kit'],
    });
    expect(draft.evaluation.kind).toBe('unanswered');
  });

  test('that level several packages at once take what is agreed, or agree on the newest in use', async () => {
    const draft = await draftWith();
    const { body } = await server.http
      .post(at(`/drafts/${draft.id}/level`))
      .send({ packages: ['log'] })
      .expect(200);
    expect((body as DraftBody).edits.map(({ edit }) => edit)).toEqual([
      { kind: 'take-shared', package: 'log', projects: ['apps/web'] },
    ]);
    expect((body as DraftBody).evaluation.consequences!.levelled).toEqual(['log']);
    const none = await server.http
      .post(at(`/drafts/${draft.id}/level`))
      .send({ packages: ['json'] });
    expect(none.body).toMatchObject({ status: 422, code: 'NOTHING_TO_LEVEL' });
    const unknown = await server.http
      .post(at(`/drafts/${draft.id}/level`))
      .send({ packages: ['no'] });
    expect(unknown.body).toMatchObject({ status: 404, code: 'PACKAGE_UNKNOWN' });
  });
});

test('a draft without an answer stays, is not postable, and each suggested fix can be taken', async () => {
  const draft = await draftWith({ ...RANGE, range: '^9.0.0' });
  expect(draft.evaluation.kind).toBe('unanswered');
  const refused = await server.http
    .post(at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: 'x' })
    .expect(409);
  expect(refused.body).toMatchObject({ code: 'DRAFT_NOT_POSTABLE' });
  const { body } = await server.http.get(at(`/drafts/${draft.id}/suggested-fixes`)).expect(200);
  const [{ ways }] = body as [{ ways: { sentence: string; edits: object[] }[] }];
  expect(ways[0]!.sentence).toBe(
    'Change the range of log in apps/web/ledger.project.toml:3 from ^9.0.0 to ^2.1.0 (the two have no version in common).',
  );
  const opened = await add(draft, ways[0]!.edits);
  expect(opened.evaluation.kind).toBe('answered');
});

test('a draft as a patch is taken by git am, and makes the same tree as the post', async () => {
  const draft = await draftWith(RANGE, PIN);
  const { text } = await server.http
    .get(at(`/drafts/${draft.id}/patch`))
    .expect('content-type', /text\/x-patch/)
    .expect(200);
  const identity = ['-c', 'user.name=gate crew', '-c', 'user.email=gate.crew@brindlepeak.example'];
  const cwd = await repository.workTree();
  await execa('git', [...identity, 'am'], { cwd, input: text });
  const { stdout } = await execa('git', ['log', '-1', '--format=%an %T'], { cwd });
  await server.http
    .post(at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: draft.message })
    .expect(201);
  const tree = (await repository.git('rev-parse', 'main^{tree}')).trim();
  expect(stdout).toBe(`platform crew ${tree}`);
});

describe('a post to a new branch', () => {
  const post = (draft: DraftBody, branch: string) =>
    server.http
      .post(at(`/drafts/${draft.id}/post`))
      .send({ ...seen(draft), message: draft.message, branch });

  test('leaves the branch of the workspace where it is', async () => {
    const before = await repository.head();
    const { body } = await post(await draftWith(RANGE), 'trial/log').expect(201);
    expect(body).toMatchObject({ branch: 'trial/log', base: before });
    expect(await repository.head()).toBe(before);
    expect((await repository.git('rev-parse', 'trial/log^')).trim()).toBe(before);
    const journal = await server.http.get(at('/journal')).expect(200);
    expect(journal.body).toMatchObject({
      entries: [{ post: { branch: 'trial/log' } }, { subject: 'First', post: null }],
    });
  });

  test('does not touch a branch that is there', async () => {
    await repository.git('branch', 'taken', 'main');
    const { body } = await post(await draftWith(RANGE), 'taken').expect(409);
    expect(body).toMatchObject({ code: 'BRANCH_EXISTS' });
    expect((await repository.git('rev-parse', 'taken')).trim()).toBe(await repository.head());
  });

  test.each(['a b', '-x', 'a..b', 'x.lock', 'a/', '.x'])('refuses the name %s', async (name) => {
    await post(await draftWith(RANGE), name).expect(400);
  });
});

describe('the journal', () => {
  test('lists posts and what was committed outside, and compares any two points', async () => {
    const draft = await draftWith(RANGE);
    await server.http
      .post(at(`/drafts/${draft.id}/post`))
      .send({ ...seen(draft), message: draft.message })
      .expect(201);
    await repository.commit({ 'README.md': 'not ours\n' }, 'Words');
    await repository.commit(
      { 'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = "shared"\n' },
      'Drop json by hand',
    );
    await server.http.post(at('/refresh')).expect(200);
    const { body } = await server.http.get(at('/journal')).expect(200);
    expect(body).toMatchObject({
      hasMore: false,
      entries: [
        {
          subject: 'Drop json by hand',
          author: 'gate crew',
          manifests: 1,
          touchesLock: false,
          post: null,
        },
        { manifests: 1, touchesLock: true, post: { authorName: 'platform crew' } },
        { subject: 'First', manifests: 4, post: null },
      ],
    });
    const compared = await server.http
      .get(at('/comparison'))
      .query({ from: draft.base, to: 'main' })
      .expect(200);
    expect(compared.body).toMatchObject({
      to: { subject: 'Drop json by hand' },
      units: [
        {
          file: 'apps/kit/ledger.project.toml',
          path: ['needs', 'json'],
          from: '"^1.0.0"',
          to: null,
        },
        { file: 'apps/web/ledger.project.toml', from: '"^2.0.0"', to: '"^2.1.0"' },
      ],
      lockBefore: 'broken',
      lockAfter: 'stale',
    });
    const unknown = await server.http.get(at('/comparison')).query({ to: 'gone' }).expect(404);
    expect(unknown.body).toMatchObject({ code: 'POINT_UNKNOWN' });
    await server.http.get(at('/comparison')).query({ to: '--all' }).expect(404);
  });

  test('a post taken back restores manifests and lockfile, and can be posted', async () => {
    const first = await draftWith({ kind: 'refresh', packages: [] });
    const posted = async (draft: DraftBody): Promise<string> => {
      const { body } = await server.http
        .post(at(`/drafts/${draft.id}/post`))
        .send({ ...seen(draft), message: draft.message })
        .expect(201);
      return (body as { commit: string }).commit;
    };
    const start = await posted(first);
    const commit = await posted(await draftWith(RANGE, PIN));
    const { body } = await server.http.post(at(`/journal/${commit}/reversal`)).expect(201);
    const { id } = body as { id: string };
    const back = await server.http.get(at(`/drafts/${id}`)).expect(200);
    expect((back.body as DraftBody).message).toMatch(/^Take back "/);
    await posted(back.body as DraftBody);
    expect(await repository.git('diff', start, 'main', '--', 'apps', 'ledger.lock')).toBe('');
    const nothing = await server.http.post(at(`/journal/${start}^/reversal`)).send({});
    expect(nothing.status).toBe(404);
  });
});
