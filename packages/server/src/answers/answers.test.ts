import { randomUUID } from 'node:crypto';
import { afterAll, beforeAll, expect, test } from 'vitest';
import { REGISTRY } from '../test/small-world.js';
import { whileAnotherWorks } from '../test/another-worker.js';
import { KnownService } from '../scan/known.service.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { until } from '../test/until.js';

const FILES = {
  'ledger.toml': 'format = 1\nname = "wide"\nprojects = ["apps/*"]\nregistry = "main"\n',
  'ledger.shared.toml': 'format = 1\n[shared]\nlog = "^1.0.0"\n',
  'apps/web/ledger.project.toml': 'name = "web"\n[needs]\nlog = "1.0.0"\njson = "^1.0.0"\n',
  'apps/web/src/a.ts': 'import "log";\nimport "moss";\n',
  'apps/kit/ledger.project.toml': 'name = "kit"\n[needs]\nlog = "shared"\n',
  'apps/kit/src/a.ts': 'import "log";\n',
};
const PACKAGES = { ...REGISTRY, moss: { '1.0.0': {} } };

interface Job {
  readonly id: string;
  readonly kind: string;
  readonly state: string;
}

/** One server answers by itself, the other leaves all that can be long to a worker. */
let here: TestWorkspace;
let byWorker: TestWorkspace;
/** How many findings there are before the lockfile is written. */
let unlocked: object;

beforeAll(async () => {
  here = await TestWorkspace.open(FILES, PACKAGES);
  const server = await TestServer.start({ copiesAtOnce: 0, filesAtOnce: 0 });
  byWorker = await TestWorkspace.open(FILES, PACKAGES, server);
  for (const world of [here, byWorker]) {
    unlocked = await world.get('/findings/count');
    await world.post([], 'Lock');
  }
});
afterAll(async () => {
  await here.stop();
  await byWorker.stop();
  await byWorker.server.stop();
});

/** The result of a draft with these edits. */
async function evaluated(world: TestWorkspace, edits: readonly object[]): Promise<object> {
  const { http } = world.server;
  const created = await http.post(world.at('/drafts')).send({}).expect(201);
  const { id } = created.body as { id: string };
  const { body } = await http
    .post(world.at(`/drafts/${id}/edits`))
    .send({ edits })
    .expect(200);
  const ways = await world.get<object>(`/drafts/${id}/suggested-fixes`);
  await http.delete(world.at(`/drafts/${id}`)).expect(204);
  const whatIf = await http.post(world.at('/what-if')).send({ edits }).expect(200);
  const { bytes } = whatIf.body as { bytes: number };
  return { evaluation: (body as { evaluation: object }).evaluation, ways, bytes };
}

const jobs = (world: TestWorkspace): Promise<Job[]> => world.get<Job[]>('/jobs');

const ADD_MOSS = {
  kind: 'add-requirement',
  package: 'moss',
  range: '^1.0.0',
  as: 'runtime',
  projects: ['apps/web'],
};
const NO_SUCH = { kind: 'set-range', package: 'log', range: '^9.0.0', projects: ['apps/web'] };

test.each([
  ['an answer', [{ kind: 'set-shared', package: 'log', range: '^2.0.0' }]],
  ['a package that was not known before', [ADD_MOSS]],
  ['no answer, and suggested fixes', [NO_SUCH]],
  ['an edit that cannot be made', [{ kind: 'retire-shared', package: 'moss' }]],
])('a worker works out the same as a server: %s', async (_, edits) => {
  expect(await evaluated(byWorker, edits)).toEqual(await evaluated(here, edits));
});

test('a worker scans, finds and clears everything as a server does', async () => {
  interface Found {
    readonly findings: readonly { readonly id: string; readonly says: string }[];
    readonly remedies: readonly object[];
    readonly scanned: object;
  }
  const [ours, theirs] = await Promise.all(
    [here, byWorker].map((world) => world.get<Found>('/findings')),
  );
  expect(ours!.findings.length).toBeGreaterThan(2);
  const bare = ({ findings, remedies, scanned }: Found) => ({
    findings: findings.map(({ id, says }) => ({ id, says })),
    remedies,
    scanned,
  });
  expect(bare(theirs!)).toEqual(bare(ours!));
  const clearing = await byWorker.get<{ edits: object[] }>('/findings/clearing');
  expect(clearing.edits.length).toBeGreaterThan(0);
  expect({ ...clearing, commit: '' }).toEqual({
    ...(await here.get<object>('/findings/clearing')),
    commit: '',
  });
  const kinds = new Set((await jobs(byWorker)).map(({ kind }) => kind));
  expect([...kinds].sort()).toEqual(expect.arrayContaining(['clearing', 'draft', 'findings']));
  expect((await jobs(here)).map(({ kind }) => kind)).not.toContain('draft');
});

/** A server that works on nothing, and its workspace. */
async function idleWorld(): Promise<TestWorkspace> {
  const idle = await TestServer.start({ copiesAtOnce: 0, works: false });
  return TestWorkspace.open(FILES, PACKAGES, idle);
}

/** Asks for something long, and waits until it stands in the queue. */
async function asking(world: TestWorkspace) {
  const asked = world.server.http.get(world.at('/findings/count'));
  const answer = asked.then(({ status, body }) => ({ status, body: body as object }));
  const job = await until(async () => {
    const found = (await jobs(world)).find(({ kind }) => kind === 'findings');
    if (found === undefined) throw new Error('nothing came into the queue');
    return found;
  });
  return { job, answer };
}

test('for large workspaces a server looks for needless copies nowhere itself: a worker does', async () => {
  for (const [world, looked] of [
    [here, true],
    [byWorker, false],
  ] as const) {
    const { nest } = world.server;
    const entity = await nest.get(WorkspaceService, { strict: false }).bySlug(world.slug);
    for (const page of ['/findings/count', '/findings', '/overview']) await world.get(page);
    const { base } = await nest.get(SnapshotService, { strict: false }).read(entity);
    const { needless } = nest.get(KnownService, { strict: false }).atHand(base);
    expect(needless !== null).toBe(looked);
  }
});

test('what nobody works on yet can be stopped; whoever waits for it is told', async () => {
  const world = await idleWorld();
  const { job, answer } = await asking(world);
  expect(job.state).toBe('waiting');
  await world.server.http.delete(world.at(`/jobs/${job.id}`)).expect(204);
  expect(await answer).toMatchObject({ status: 409, body: { code: 'WORK_STOPPED' } });
  await world.get('/findings/count', 409);
  await world.stop();
  await world.server.stop();
});

test('what a worker that is gone had begun is done by another, and whoever waits has it', async () => {
  const world = await idleWorld();
  const { job, answer } = await asking(world);
  // As a killed worker leaves it: taken out of the queue, begun, and its lease has run out.
  await world.server.query(`DELETE FROM "queue"."job"`);
  await world.server.query(
    `UPDATE "job" SET "state" = 'running', "claimed_by" = '${randomUUID()}',
       "lease_until" = now() - interval '1 second' WHERE "id" = '${job.id}'`,
  );
  await whileAnotherWorks(world.server, async () => {
    expect(await answer).toEqual({ status: 200, body: unlocked });
  });
  await world.stop();
  await world.server.stop();
});

test('whoever prefers it is told the job in place of waiting, and asks again once it is over', async () => {
  const world = await idleWorld();
  const { http } = world.server;
  const ask = () => http.get(world.at('/findings/count')).set('prefer', 'respond-async, wait=0');
  const first = await ask().expect(202);
  const { id } = first.body as Job;
  expect(first.body).toMatchObject({ kind: 'findings', state: 'waiting' });
  expect(first.headers).toMatchObject({
    location: world.at(`/jobs/${id}`),
    'preference-applied': 'respond-async',
  });
  // Asked again it is the same job, and nothing is begun twice.
  expect((await ask().expect(202)).body).toMatchObject({ id });
  await whileAnotherWorks(world.server, async () => {
    await until(async () => {
      const job = await http.get(first.headers['location']!).expect(200);
      expect(job.body).toMatchObject({ id, kind: 'findings', state: 'done' });
    });
    expect((await ask().expect(200)).body).toEqual(unlocked);
    await http.get(world.at(`/jobs/${randomUUID()}`)).expect(404);
  });
  await world.stop();
  await world.server.stop();
});

test('what fails while nobody waits is told to whoever asks again', async () => {
  const world = await idleWorld();
  const { http } = world.server;
  const ask = () => http.get(world.at('/findings/count')).set('prefer', 'respond-async, wait=0');
  const { id } = (await ask().expect(202)).body as Job;
  await http.delete(world.at(`/jobs/${id}`)).expect(204);
  expect((await http.get(world.at(`/jobs/${id}`)).expect(200)).body).toMatchObject({
    state: 'stopped',
  });
  expect((await ask().expect(409)).body).toMatchObject({ code: 'WORK_STOPPED' });
  await world.stop();
  await world.server.stop();
});

test('what waits for a scan of source only briefly is answered, and not put off until the scan is over', async () => {
  const idle = await TestServer.start({ filesAtOnce: 0, works: false });
  const world = await TestWorkspace.open(FILES, PACKAGES, idle);
  const { http } = world.server;
  const edits = [{ kind: 'set-shared', package: 'log', range: '^2.0.0' }];
  const tried = await http
    .post(world.at('/what-if'))
    .set('prefer', 'respond-async, wait=0')
    .send({ edits })
    .expect(200);
  expect(tried.body).toMatchObject({ bytes: expect.any(Number) as number });
  expect((await jobs(world)).map(({ kind, state }) => `${kind} ${state}`)).toEqual([
    'scan waiting',
  ]);
  await world.stop();
  await world.server.stop();
});
