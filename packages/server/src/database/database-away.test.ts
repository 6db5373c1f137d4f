import { afterAll, beforeAll, expect, test } from 'vitest';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { DatabaseLine } from '../test/database-line.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { until } from '../test/until.js';

let world: TestWorkspace;

let line: DatabaseLine;

beforeAll(async () => {
  const server = await TestServer.start({
    through: async (url) => {
      line = await DatabaseLine.to(url);
      return line.url;
    },
  });
  world = await TestWorkspace.open(FILES, REGISTRY, server);
});
afterAll(async () => {
  await world.stop();
  await world.server.stop();
  await line.cut();
});

test('a database that goes away is told as such, ends nothing, and all goes on when it is back', async () => {
  const lost: unknown[] = [];
  const note = (error: unknown): void => void lost.push(error);
  process.on('unhandledRejection', note);
  const jobs = world.server.nest.get(JobsService, { strict: false });
  const entity = await world.server.nest
    .get(WorkspaceService, { strict: false })
    .bySlug(world.slug);
  let runs = 0;
  let begun: (watch: JobWatch) => void = () => undefined;
  const first = new Promise<JobWatch>((resolve) => {
    begun = resolve;
  });
  let goOn = (): void => undefined;
  const isBack = new Promise<void>((resolve) => {
    goOn = resolve;
  });
  jobs.register('scan', async (_entity, _key, watch) => {
    runs += 1;
    if (runs > 1) return;
    begun(watch);
    await isBack;
    await watch.progress(1, 2);
  });
  await jobs.begin(entity, 'scan', 'while it is away');
  await first;
  await line.cut();
  for (const path of ['', '/alignment', '/drafts']) {
    const { body } = await world.server.http.get(world.at(path)).expect(503);
    expect(body).toMatchObject({ code: 'DATABASE_DOWN' });
  }
  await world.server.stranger.get('/api/health').expect(200);
  // The job tells how far it is while nobody hears it.
  goOn();
  await world.server.http.get(world.at('')).expect(503);
  await line.repair();
  await until(() => world.server.http.get(world.at('')).expect(200));
  await until(async () => {
    const job = await jobs.latest(entity, 'scan', 'while it is away');
    expect(job?.state).toBe('done');
  });
  process.off('unhandledRejection', note);
  expect(lost).toEqual([]);
});
