import { afterAll, beforeAll, expect, test } from 'vitest';
import { documents } from '../test/test-registry.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';

interface Commit {
  readonly commit: string;
}

interface Draft extends SeenDraft {
  readonly id: string;
  readonly edits: readonly { readonly edit: object }[];
  readonly evaluation: SeenDraft['evaluation'] & {
    readonly consequences: { readonly openTerms: readonly object[]; readonly sum: string };
  };
}

const TERMS = { id: 'maps-2', title: 'Terms for maps', url: 'https://maps.example/terms' };
const ADD = {
  kind: 'add-requirement',
  package: 'maps',
  range: '^1.0.0',
  as: 'runtime',
  projects: ['apps/kit', 'apps/web'],
};
const ACCEPT = { kind: 'accept-terms', ...TERMS };

let world: TestWorkspace;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, { ...REGISTRY, maps: { '1.0.0': {} } });
  say(TERMS);
});
afterAll(() => world.stop());

/** Lets the registry put maps under these terms. */
function say(terms: object): void {
  const [document] = documents({ maps: { '1.0.0': {} } });
  const releases = document!.releases.map((release) => ({ ...release, terms }));
  world.registry.lies.set('/packages/maps', JSON.stringify({ ...document, releases }));
}

const drafted = (edits: readonly object[]): Promise<Draft> => world.drafted<Draft>(edits);

async function added({ id }: Draft, edits: readonly object[]): Promise<Draft> {
  const { body } = await world.server.http
    .post(world.at(`/drafts/${id}/edits`))
    .send({ edits })
    .expect(200);
  return body as Draft;
}

function post(draft: Draft) {
  return world.server.http
    .post(world.at(`/drafts/${draft.id}/post`))
    .send({ ...seen(draft), message: 'As seen' });
}

test('a draft that brings a package under terms is posted once somebody who may post has accepted them in it', async () => {
  const draft = await drafted([ADD]);
  expect(draft.evaluation.consequences.openTerms).toEqual([
    { ...TERMS, copies: [{ name: 'maps', version: '1.0.0' }], earlier: null },
  ]);
  const refused = await post(draft).expect(409);
  expect(refused.body).toMatchObject({ code: 'TERMS_NOT_ACCEPTED' });
  expect((refused.body as { detail: string }).detail).toContain(
    'maps 1.0.0: "Terms for maps" (https://maps.example/terms).',
  );

  const editor = await world.server.signedIn('ada', 'editor');
  const { body } = await world.server
    .as(editor)
    .post(world.at(`/drafts/${draft.id}/edits`))
    .send({ edits: [ACCEPT] })
    .expect(403);
  expect(body).toMatchObject({ code: 'NOT_ALLOWED' });

  // Who and when are nothing that a caller decides.
  const accepted = await added(draft, [{ ...ACCEPT, by: 'ada crew', on: '2001-01-01' }]);
  expect(accepted.edits.at(-1)?.edit).toMatchObject({ by: 'platform crew' });
  expect(accepted.evaluation.consequences.openTerms).toEqual([]);
  await post(accepted).expect(201);

  const { body: shared } = await world.server.http.get(world.at('/shared')).expect(200);
  expect((shared as { accepted: readonly object[] }).accepted).toMatchObject([
    { ...TERMS, by: 'platform crew', copies: ['maps 1.0.0'] },
  ]);
});

test('who takes an acceptance out and puts it back does not become the one who accepted', async () => {
  const draft = await drafted([{ kind: 'end-acceptance', id: TERMS.id }, ACCEPT]);
  const editor = await world.server.signedIn('bo', 'editor');
  const [end, accept] = draft.edits.map(({ edit }) => edit);
  const put = (revision: number, isOut: boolean) =>
    world.server
      .as(editor)
      .put(world.at(`/drafts/${draft.id}/entries`))
      .send({
        revision,
        entries: [
          { edit: end, isOut: false },
          { edit: accept, isOut },
        ],
      })
      .expect(200);
  const out = (await put(draft.revision, true)).body as Draft;
  const back = (await put(out.revision, false)).body as Draft;
  expect(back.edits.at(-1)?.edit).toMatchObject({ by: 'platform crew' });
});

test('the page of the package says that its terms are accepted, by whom and when', async () => {
  const terms = async (): Promise<unknown> => {
    const { body } = await world.server.http.get(world.at('/registry/packages/maps')).expect(200);
    return (body as { releases: readonly { terms: unknown }[] }).releases[0]!.terms;
  };
  expect(await terms()).toMatchObject({ ...TERMS, state: 'accepted', by: 'platform crew' });
});

test('a merge that brings a package under terms is posted once they are accepted on its branch', async () => {
  const charts = { id: 'charts-1', title: 'Terms for charts', url: 'https://charts.example/terms' };
  const [document] = documents({ charts: { '1.0.0': {} } });
  const releases = document!.releases.map((release) => ({ ...release, terms: charts }));
  const other = await TestWorkspace.open(
    FILES,
    { ...REGISTRY, charts: { '1.0.0': {} } },
    world.server,
  );
  other.registry.lies.set('/packages/charts', JSON.stringify({ ...document, releases }));
  await other.post([], 'Lock');
  const kit = 'apps/kit/ledger.project.toml';
  await other.repository.branch('charting', { [kit]: `${FILES[kit]}charts = "^1.0.0"\n` });
  const { http } = world.server;
  const preview = async () => {
    const { body } = await http
      .post(other.at('/merges/preview'))
      .send({ from: 'charting', decisions: [] })
      .expect(200);
    return body as { ours: Commit; theirs: Commit; result: string; openTerms: readonly object[] };
  };
  const posting = ({ ours, theirs, result }: Awaited<ReturnType<typeof preview>>) =>
    http.post(other.at('/merges/post')).send({
      ...{ from: 'charting', decisions: [], message: 'Merge charting' },
      ...{ ours: ours.commit, theirs: theirs.commit, result },
    });
  await http.post(other.at('/refresh')).expect(200);
  const before = await preview();
  expect(before.openTerms).toEqual([
    { ...charts, copies: [{ name: 'charts', version: '1.0.0' }], earlier: null },
  ]);
  const refused = await posting(before).expect(409);
  expect(refused.body).toMatchObject({ code: 'TERMS_NOT_ACCEPTED' });
  expect(refused.text).toContain('accept them in a draft on main');

  await other.post([{ kind: 'accept-terms', ...charts }], 'Accept the terms for charts');
  const after = await preview();
  expect(after.openTerms).toEqual([]);
  await posting(after).expect(201);
  expect(await other.get<object>('/lock')).toMatchObject({ state: 'consistent' });
  await other.stop();
});
