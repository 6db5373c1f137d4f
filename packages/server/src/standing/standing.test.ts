import { afterAll, beforeAll, describe, expect, test, vi } from 'vitest';
import { Clock } from '../clock.js';
import { seen, type SeenDraft } from '../test/seen-draft.js';
import { TestWorkspace } from '../test/test-workspace.js';
import type { StandingDto, StandingOrderDto, StandingRunDto } from './standing.dto.js';
import { StandingOrders } from './standing-orders.service.js';
import { until } from '../test/until.js';

const ORDERS = `
[[standing]]
name = "weekly"
every = "monday"
take = "minor"
except = ["mast"]

[[standing]]
name = "onto-branch"
every = "0 5 1 * *"
to = "branch"

[[standing]]
name = "no-such"
every = "friday"
packages = ["no-such-*"]
`;
const FILES = {
  'ledger.toml': `format = 1\nname = "old"\nprojects = ["apps/*"]\nregistry = "main"\n${ORDERS}`,
  'apps/web/ledger.project.toml':
    'name = "web"\n[needs]\nlog = "^1.0.0"\nmast = "^1.0.0"\njson = "^1.0.0"\n',
};
const OLD = { log: { '1.0.0': {} }, json: { '1.0.0': {} }, mast: { '1.0.0': {} } };
const NEW = {
  log: { '1.0.0': {}, '1.0.1': {}, '1.1.0': {} },
  json: { '1.0.0': {}, '1.2.0': {} },
  mast: { '1.0.0': {}, '1.0.4': {} },
};

interface Draft extends SeenDraft {
  readonly id: string;
  readonly name: string;
  readonly author: string;
  readonly edits: readonly { readonly edit: object }[];
}

let world: TestWorkspace;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, OLD);
  await world.post([{ kind: 'bring-up' }], 'Lock');
  world.registry.serve(NEW);
});
afterAll(() => world.stop());

async function git(...args: readonly string[]): Promise<string> {
  return (await world.repository.git(...args)).trim();
}

async function order(name: string): Promise<StandingOrderDto> {
  const { orders } = await world.get<StandingDto>('/standing');
  return orders.find((one) => one.name === name)!;
}

/** Waits until the newest run of an order is over. */
function ended(name: string, runs: number): Promise<StandingRunDto> {
  return until(async () => {
    const all = (await order(name)).runs;
    expect(all).toHaveLength(runs);
    expect(all[0]!.state).not.toBe('running');
    return all[0]!;
  });
}

async function run(name: string): Promise<StandingRunDto> {
  const before = (await order(name)).runs.length;
  await world.server.http.post(world.at(`/standing/${name}/runs`)).expect(200);
  return ended(name, before + 1);
}

describe('standing orders', () => {
  test('what ledger.toml has is told, with when each is due', async () => {
    const { orders } = await world.get<StandingDto>('/standing');
    expect(orders.map(({ name, take, to, runs }) => [name, take, to, runs.length])).toEqual([
      ['weekly', 'minor', 'draft', 0],
      ['onto-branch', 'patch', 'branch', 0],
      ['no-such', 'patch', 'draft', 0],
    ]);
    expect(new Date(orders[0]!.next!).getUTCDay()).toBe(1);
    expect(orders[0]!.next).toMatch(/T04:00:00/);
    await world.get('/standing', 200);
    const { body } = await world.server.http.post(world.at('/standing/weekley/runs')).expect(404);
    expect((body as { detail: string }).detail).toContain('Did you mean weekly?');
  });

  test('run by hand, it prepares a draft of its own, which a person posts; its commit has it as the author', async () => {
    const made = await run('weekly');
    expect(made).toMatchObject({ state: 'draft', taken: 2, leftOut: 0, by: 'platform crew' });
    const draft = await world.get<Draft>(`/drafts/${made.draftId!}`);
    expect(draft).toMatchObject({ name: 'weekly', author: 'standing order weekly', isMine: false });
    expect(draft.edits.map(({ edit }) => edit)).toMatchObject([
      { kind: 'upgrade', moves: [{ package: 'json', to: '1.2.0' }] },
      { kind: 'upgrade', moves: [{ package: 'log', to: '1.1.0' }] },
    ]);
    // It is not doubled, and what nobody took up is brought up to date.
    const again = await run('weekly');
    expect(again).toMatchObject({ draftId: made.draftId, says: 'The draft stands as it was.' });
    world.registry.serve({ ...NEW, log: { ...NEW.log, '1.3.0': {} } });
    const renewed = await run('weekly');
    expect(renewed).toMatchObject({
      draftId: made.draftId,
      says: 'The draft was brought up to date.',
    });
    const now = await world.get<Draft>(`/drafts/${made.draftId!}`);
    expect(now.edits.at(-1)!.edit).toMatchObject({ moves: [{ package: 'log', to: '1.3.0' }] });
    await world.server.http
      .post(world.at(`/drafts/${now.id}/post`))
      .send({ ...seen(now), message: 'Weekly' })
      .expect(201);
    expect(await git('log', '-1', '--format=%an|%cn', 'main')).toBe(
      'standing order weekly|platform crew',
    );
    expect(await run('weekly')).toMatchObject({ state: 'nothing', draftId: null });
  });

  test('a draft that somebody took up is left to them', async () => {
    world.registry.serve({ ...NEW, log: { ...NEW.log, '1.3.0': {}, '1.4.0': {} } });
    const { draftId } = await run('weekly');
    await world.server.http
      .post(world.at(`/drafts/${draftId!}/edits`))
      .send({ edits: [{ kind: 'pin', package: 'mast', version: '1.0.0' }] })
      .expect(200);
    const next = await run('weekly');
    expect(next.state).toBe('draft');
    expect(next.draftId).not.toBe(draftId);
  });

  test('onto a branch of its own; put there anew as long as nobody else has put something on it', async () => {
    const branch = 'standing/onto-branch';
    const made = await run('onto-branch');
    expect(made).toMatchObject({ state: 'branch', taken: 1 });
    expect(await git('rev-parse', branch)).toBe(made.commit);
    expect(await git('diff', '--name-only', 'main', branch)).toBe('ledger.lock');
    world.registry.serve({ ...NEW, mast: { '1.0.0': {}, '1.0.4': {}, '1.0.5': {} } });
    const again = await run('onto-branch');
    expect(again.commit).not.toBe(made.commit);
    expect(await git('rev-parse', branch)).toBe(again.commit);
    expect(await git('show', `${branch}:ledger.lock`)).toContain('copy mast 1.0.5');
    // Somebody goes on from there.
    await git('update-ref', `refs/heads/${branch}`, 'main');
    expect(await run('onto-branch')).toMatchObject({
      state: 'failed',
      says: expect.stringContaining('Somebody has put commits on standing/onto-branch') as string,
    });
  });

  test('what it would not change is not made', async () => {
    expect(await run('no-such')).toMatchObject({
      state: 'nothing',
      draftId: null,
      says: 'Nothing newer was there.',
    });
  });

  test('on its day it runs once, however many look, and once for all the days that nobody worked', async () => {
    const { nest } = world.server;
    const orders = nest.get(StandingOrders, { strict: false });
    await orders.beginDue();
    const before = (await order('no-such')).runs.length;
    const later = new Date(Date.now() + 17 * 24 * 60 * 60_000);
    const clock = vi.spyOn(Clock.prototype, 'now').mockReturnValue(later);
    try {
      await Promise.all([orders.beginDue(), orders.beginDue(), orders.beginDue()]);
      await orders.beginDue();
    } finally {
      clock.mockRestore();
    }
    const made = await ended('no-such', before + 1);
    expect(made.by).toBeNull();
    expect(new Date(made.due!).getUTCDay()).toBe(5);
  });

  test('an order that the repository no longer has is not run again', async () => {
    await world.post([{ kind: 'end-standing', name: 'no-such' }], 'Ended');
    expect((await world.get<StandingDto>('/standing')).orders).toHaveLength(2);
    const rows = (await world.server.query(
      `SELECT "name" FROM "standing_order" ORDER BY "name"`,
    )) as { name: string }[];
    expect(rows.map(({ name }) => name)).toEqual(['onto-branch', 'weekly']);
  });
});
