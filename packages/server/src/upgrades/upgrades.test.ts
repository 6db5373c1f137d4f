import { afterAll, beforeAll, describe, expect, test } from 'vitest';
import { TestWorkspace } from '../test/test-workspace.js';
import type { UpgradeBatchDto, UpgradesDto, UpgradeTrialDto } from './upgrades.dto.js';

const FILES = {
  'ledger.toml':
    'format = 1\nname = "old"\nprojects = ["apps/*"]\nregistry = "main"\n[owners]\n"kit crew" = ["apps/kit"]\n',
  'ledger.shared.toml': 'format = 1\n[shared]\nlog = "~1.0.0"\n',
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "shared"\nmast = "^1.0.0"\n',
  'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\njson = "1.0.0 || ^1.0.4"\n',
};
const PACKAGES = {
  log: { '1.0.0': {}, '1.0.1': {}, '1.1.0': { json: '^2.0.0' } },
  json: { '1.0.0': {}, '1.0.4': {}, '2.0.0': {} },
  mast: { '1.0.0': { json: '^1.0.0' }, '1.2.0': { json: '^1.0.0' } },
};

let world: TestWorkspace;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, PACKAGES);
  // Locked where everything was older.
  await world.post(
    [
      { kind: 'pin', package: 'log', version: '1.0.0' },
      { kind: 'pin', package: 'json', version: '1.0.0' },
      { kind: 'pin', package: 'mast', version: '1.0.0' },
    ],
    'Pins',
  );
  await world.post(
    ['log', 'json', 'mast'].map((name) => ({ kind: 'unpin', package: name })),
    'No pins',
  );
});
afterAll(() => world.stop());

describe('upgrades', () => {
  test('what is newer is listed with the newest of each step', async () => {
    const { rows } = await world.get<UpgradesDto>('/upgrades');
    expect(
      rows.map(({ name, from, offers }) => [name, from, ...offers.map(({ to }) => to)]),
    ).toEqual([
      ['json', '1.0.0', '1.0.4', '2.0.0'],
      ['log', '1.0.0', '1.0.1', '1.1.0'],
      ['mast', '1.0.0', '1.2.0'],
    ]);
    const old = await world.get<UpgradesDto>('/upgrades?olderThan=3650');
    expect(old.rows.flatMap(({ offers }) => offers)).toEqual([]);
    await world.get('/upgrades?olderThan=-1', 400);
    const { headers } = await world.server.http.get(world.at('/upgrades')).expect(200);
    await world.server.http
      .get(world.at('/upgrades'))
      .set('if-none-match', headers['etag'] as string)
      .expect(304);
  });

  test('many are tried by a worker process, to the same end', async () => {
    const { rows } = await world.get<UpgradesDto>('/upgrades');
    const upgrades = rows.flatMap((row) => row.offers).map(({ moves }) => ({ moves }));
    const tried = async (all: readonly object[]): Promise<UpgradeTrialDto[]> => {
      const { body } = await world.server.http
        .post(world.at('/upgrades/trials'))
        .send({ upgrades: all })
        .expect(200);
      return body as UpgradeTrialDto[];
    };
    const kinds = async () => (await world.get<{ kind: string }[]>('/jobs')).map((job) => job.kind);
    const once = await tried(upgrades);
    expect(await kinds()).not.toContain('upgrades');
    const often = Array.from({ length: 20 }, () => upgrades).flat();
    expect(await tried(often)).toEqual(Array.from({ length: 20 }, () => once).flat());
    expect(await kinds()).toContain('upgrades');
  });

  test('each is tried by itself, as a draft with it comes out', async () => {
    const { rows } = await world.get<UpgradesDto>('/upgrades');
    const offers = rows.flatMap((row) => row.offers);
    const { body } = await world.server.http
      .post(world.at('/upgrades/trials'))
      .send({ upgrades: offers.map(({ moves }) => ({ moves })) })
      .expect(200);
    const trials = body as UpgradeTrialDto[];
    const told = offers.map(({ name, to }, i) => [
      `${name} ${to}`,
      trials[i]!.against.length === 0,
    ]);
    expect(Object.fromEntries(told)).toEqual({
      'json 1.0.4': true,
      'json 2.0.0': false,
      'log 1.0.1': true,
      'log 1.1.0': false,
      'mast 1.2.0': true,
    });
    for (const [i, { moves }] of offers.entries()) {
      const created = await world.server.http.post(world.at('/drafts')).send({}).expect(201);
      const { id } = created.body as { id: string };
      const draft = await world.server.http
        .post(world.at(`/drafts/${id}/edits`))
        .send({ edits: [{ kind: 'upgrade', moves }] })
        .expect(200);
      const { evaluation } = draft.body as {
        evaluation: { consequences: { manifests: number; change: { moved: object[] } } };
      };
      expect(trials[i]!.price).toMatchObject({
        files: evaluation.consequences.manifests,
        moved: evaluation.consequences.change.moved.length,
      });
      await world.server.http.delete(world.at(`/drafts/${id}`)).expect(204);
    }
  });

  test('a batch has the most that can be taken, and a reason for each that is left out', async () => {
    const patches = await world.get<UpgradeBatchDto>('/upgrades/batch?take=patch');
    expect(patches).toMatchObject({ of: 2, left: [] });
    const minors = await world.get<UpgradeBatchDto>('/upgrades/batch?take=minor');
    expect(minors.offers.map(({ name, to }) => `${name} ${to}`)).toEqual([
      'json 1.0.4',
      'log 1.0.1',
      'mast 1.2.0',
    ]);
    expect(minors.left.map(({ offer, against }) => [offer.name, offer.to, against.length])).toEqual(
      [['log', '1.1.0', 1]],
    );
    await world.get('/upgrades/batch?take=everything', 400);
  });

  test('a batch can be of what the projects of one owner require', async () => {
    const { rows } = await world.get<UpgradesDto>('/upgrades');
    expect(rows.map(({ name, owners }) => [name, owners])).toEqual([
      ['json', ['kit crew']],
      ['log', []],
      ['mast', []],
    ]);
    const { of, offers } = await world.get<UpgradeBatchDto>(
      '/upgrades/batch?take=patch&owner=kit%20crew',
    );
    expect([of, offers.map(({ name }) => name)]).toEqual([1, ['json']]);
  });

  test.each([
    ['no moves', { upgrades: [{ moves: [] }] }],
    ['no upgrades', { upgrades: [] }],
    ['lists in place of upgrades', { upgrades: [[]] }],
    ['lists in place of moves', { upgrades: [{ moves: [[]] }] }],
    [
      'a name that is none',
      { upgrades: [{ moves: [{ package: ' ', from: '1.0.0', to: '2.0.0' }] }] },
    ],
  ])('%s are refused', async (_, body) => {
    await world.server.http.post(world.at('/upgrades/trials')).send(body).expect(400);
  });

  test('versions that are none, and packages that nobody has, are told and break nothing', async () => {
    const moves = [{ package: 'log', from: 'x', to: 'y' }];
    const wrong = await world.server.http
      .post(world.at('/upgrades/trials'))
      .send({ upgrades: [{ moves }] })
      .expect(200);
    expect((wrong.body as UpgradeTrialDto[])[0]!.against).toEqual([
      '"x" is no version of log.',
      '"y" is no version of log.',
    ]);
    const unknown = [{ package: 'moss', from: '1.0.0', to: '2.0.0' }];
    const { body } = await world.server.http
      .post(world.at('/upgrades/trials'))
      .send({ upgrades: [{ moves: unknown }] })
      .expect(200);
    expect((body as UpgradeTrialDto[])[0]!.against).toEqual([
      'Nothing would take moss 2.0.0: it is supplied as a peer.',
    ]);
  });
});
