import { afterAll, beforeAll, beforeEach, describe, expect, test } from 'vitest';
import { GitService } from '../git/git.service.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { INTEGRITY } from '../test/test-registry.js';
import type { SignedIn } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';

interface Draft extends SeenDraft {
  readonly id: string;
  readonly author: string;
  readonly edits: readonly { readonly edit: { readonly kind: string } }[];
}

const RANGE = { kind: 'set-range', package: 'log', range: '^2.0.0', projects: ['apps/kit'] };
const PIN = { kind: 'pin', package: 'json', version: '1.0.0' };
const MUTE = {
  kind: 'mute',
  finding: 'loose apps/web json',
  reason: 'later',
  owner: 'us',
  until: '2025-07-01',
};
/** What the first test leaves in the lockfile. */
const NEWER = { ...REGISTRY, log: { ...REGISTRY.log, '2.2.0': {} } };
const OTHER = `sha512-${'B'.repeat(86)}==`;

/** What the registry says of every release, and the lockfile has. */
let integrity = INTEGRITY;
let world: TestWorkspace;
let editor: SignedIn;
let second: SignedIn;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
  editor = await world.server.signedIn('lift', 'editor');
  second = await world.server.signedIn('gate', 'editor');
});
afterAll(() => world.stop());
beforeEach(async () => {
  await served(REGISTRY, () => integrity);
});

async function drafted(edits: readonly object[], http = world.server.http): Promise<Draft> {
  const created = await http.post(world.at('/drafts')).send({}).expect(201);
  const { id } = created.body as Draft;
  const { body } = await http
    .post(world.at(`/drafts/${id}/edits`))
    .send({ edits })
    .expect(200);
  return body as Draft;
}

const read = (draft: Draft): Promise<Draft> => world.get<Draft>(`/drafts/${draft.id}`);

function post(draft: Draft, more: object = {}) {
  return world.server.http
    .post(world.at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: 'As seen', ...more });
}

/** The registry has other documents from now on, and says so. */
async function served(...args: Parameters<typeof world.registry.serve>): Promise<void> {
  world.registry.serve(...args);
  await world.server.http.post(world.at('/refresh')).expect(200);
}

describe('what is posted is what was seen', () => {
  test('a release that appeared meanwhile is not posted unseen, and is named', async () => {
    const draft = await drafted([RANGE]);
    await served(NEWER);
    const head = await world.repository.head();
    const { body } = await post(draft).expect(409);
    expect(body).toMatchObject({
      code: 'DRAFT_DIFFERS',
      detail: expect.stringContaining('log 2.1.0 → 2.2.0') as string,
    });
    expect(await world.repository.head()).toBe(head);
    await post(await read(draft)).expect(201);
  });

  test('a draft that was changed since it was seen is not posted', async () => {
    const draft = await drafted([PIN]);
    await world.server.http
      .post(world.at(`/drafts/${draft.id}/edits`))
      .send({ edits: [MUTE] })
      .expect(200);
    expect((await post(draft).expect(409)).body).toMatchObject({ code: 'DRAFT_CHANGED' });
    await post(await read(draft), { message: '  ' }).expect(400);
  });

  test('edits that arrive while a post is written stay in the draft, on top of it', async () => {
    const draft = await drafted([MUTE]);
    const git = world.server.nest.get(GitService);
    const moveBranch = git.moveBranch.bind(git);
    git.moveBranch = async (...args) => {
      git.moveBranch = moveBranch;
      await world.server.http
        .post(world.at(`/drafts/${draft.id}/edits`))
        .send({ edits: [PIN] })
        .expect(200);
      return moveBranch(...args);
    };
    const { body } = await post(draft).expect(201);
    const left = await read(draft);
    expect(left).toMatchObject({
      base: (body as { commit: string }).commit,
      carriedFrom: null,
      edits: [{ edit: PIN, problem: null }],
      evaluation: { kind: 'answered' },
    });
    expect(left.edits).toHaveLength(1);
    await post(left).expect(201);
    await world.get(`/drafts/${draft.id}`, 404);
  });

  test.each([[[[]]], [[null]], [[{}]], [['pin']]])(
    'an edit that is none (%j) is refused, and the draft stays as it was',
    async (edits) => {
      const draft = await drafted([MUTE]);
      await world.server.http
        .post(world.at(`/drafts/${draft.id}/edits`))
        .send({ edits })
        .expect(400);
      expect(await read(draft)).toMatchObject({ revision: draft.revision, edits: draft.edits });
    },
  );

  test('what cannot be evaluated is not kept', async () => {
    const draft = await drafted([MUTE]);
    await world.registry.stop();
    const add = { kind: 'add-requirement', package: 'rope', range: '*', as: 'runtime' };
    const edits = [{ ...add, projects: ['apps/web'] }];
    await world.server.http
      .post(world.at(`/drafts/${draft.id}/edits`))
      .send({ edits })
      .expect(503);
    await world.registry.start();
    expect(await read(draft)).toMatchObject({ revision: draft.revision, edits: draft.edits });
  });
});

describe('the integrity of a copy', () => {
  test('stands as the lockfile has it, until a person takes the registry’s', async () => {
    await world.post([], 'Lock').catch(() => undefined);
    await served(NEWER, () => OTHER);
    await world.post([{ ...MUTE, finding: 'loose apps/kit json' }], 'About something else');
    expect(await world.repository.file('ledger.lock')).toContain(INTEGRITY);
    expect(await world.repository.file('ledger.lock')).not.toContain(OTHER);

    const touching = { kind: 'remove-requirement', package: 'json', projects: ['apps/kit'] };
    const draft = await drafted([touching]);
    const refused = await post(draft).expect(409);
    expect(refused.body).toMatchObject({ code: 'INTEGRITY_DISPUTED' });
    const { detail } = refused.body as { detail: string };
    expect(detail).toContain(INTEGRITY);
    expect(detail).toContain(OTHER);

    const { findings } = await world.get<{
      findings: { kind: string; remedies: { edits: object[] }[] }[];
    }>('/findings');
    const tampered = findings.filter(({ kind }) => kind === 'tampered');
    const edits = tampered.flatMap(({ remedies }) => remedies[0]!.edits);
    await world.post(edits, 'Take the registry’s');
    integrity = OTHER;
    expect(await world.repository.file('ledger.lock')).not.toContain(INTEGRITY);
    await post(await read(draft)).expect(201);
  });
});

describe('whose a draft and its post are', () => {
  test('what a token does, its maker does: they cannot approve it', async () => {
    const maker = await world.server.signedIn('rota', 'keeper');
    const made = await world.server
      .as(maker)
      .post(world.at('/tokens'))
      .send({ name: 'night job', scopes: ['draft'], lastDay: '2025-12-31' })
      .expect(201);
    const { secret } = made.body as { secret: string };
    const bearer = { authorization: `Bearer ${secret}` };
    const created = await world.server.stranger
      .post(world.at('/drafts'))
      .set(bearer)
      .send({})
      .expect(201);
    const { id } = created.body as Draft;
    const { body } = await world.server.stranger
      .post(world.at(`/drafts/${id}/edits`))
      .set(bearer)
      .send({ edits: [PIN] })
      .expect(200);
    const draft = body as Draft;
    const approve = (who: SignedIn) =>
      world.server
        .as(who)
        .put(world.at(`/drafts/${id}/approval`))
        .send(seen(draft));
    expect((await approve(maker).expect(409)).body).toMatchObject({ code: 'OWN_DRAFT' });
    await approve(second).expect(200);

    const { body: accounts } = await world.server.http.get('/api/accounts').expect(200);
    const account = (accounts as { id: string; name: string }[]).find(
      ({ name }) => name === 'rota',
    )!;
    await world.server.http
      .patch(`/api/accounts/${account.id}`)
      .send({ isActive: false })
      .expect(200);
    await world.server.stranger
      .get(world.at(`/drafts/${id}`))
      .set(bearer)
      .expect(401);
  });

  test('the author is who began it, the committer who posted it, approvals are trailers', async () => {
    const draft = await drafted([{ ...PIN, version: '1.1.0' }], world.server.as(editor));
    await world.server
      .as(second)
      .put(world.at(`/drafts/${draft.id}/approval`))
      .send(seen(draft))
      .expect(200);
    const { body } = await post(draft, { message: 'Pin json\n\nFor the pages.' }).expect(201);
    expect(body).toMatchObject({
      authorName: 'lift crew',
      committerName: 'platform crew',
      approvedBy: ['gate crew <gate@brindlepeak.example>'],
    });
    expect(await world.repository.git('log', '-1', '--format=%an <%ae>|%cn|%B', 'main')).toBe(
      `lift crew <lift@brindlepeak.example>|platform crew|Pin json\n\nFor the pages.\n\nApproved-by: gate crew <gate@brindlepeak.example>\n\n`,
    );
  });
});

describe('taking back', () => {
  test('is worked out from the commit, whatever the caller says of it', async () => {
    const journal = await world.get<{ entries: { commit: string; subject: string }[] }>('/journal');
    const { commit, subject } = journal.entries.find(({ subject: one }) => one === 'Pin json')!;
    const forged = {
      kind: 'take-back',
      commit,
      title: 'Harmless',
      units: [
        { file: 'ledger.toml', path: ['name'], found: '"small"', source: '"x"', isBlock: false },
      ],
      answers: [],
    };
    const draft = await drafted([forged]);
    expect(draft.edits).toMatchObject([
      { edit: { kind: 'take-back', commit, title: subject }, problem: null },
    ]);
    const text = JSON.stringify(draft);
    expect(text).not.toContain('Harmless');
    expect(text).toContain('ledger.shared.toml');
    const plain = await drafted([{ kind: 'take-back', commit }]);
    expect(plain.edits).toEqual(draft.edits);
    await world.server.http
      .post(world.at(`/drafts/${plain.id}/edits`))
      .send({ edits: [{ kind: 'take-back', commit: 'a'.repeat(40) }] })
      .expect(404);
  });
});
