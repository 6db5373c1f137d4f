import { expect, test } from 'vitest';
import { FILES, REGISTRY } from '../test/small-world.js';
import { whileAnotherWorks } from '../test/another-worker.js';
import { TestServer } from '../test/test-server.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { until } from '../test/until.js';

test('a merge in a large workspace is worked out by a worker process, once; whoever prefers it is told the job', async () => {
  const idle = await TestServer.start({ copiesAtOnce: 0, works: false });
  const world = await TestWorkspace.open(FILES, REGISTRY, idle);
  const { http } = world.server;
  await world.repository.branch('trial', {
    'apps/kit/ledger.project.toml': FILES['apps/kit/ledger.project.toml'].replace(
      '^1.0.0',
      '~1.0.0',
    ),
  });
  await http.post(world.at('/refresh')).expect(200);
  const ask = () =>
    http
      .post(world.at('/merges/preview'))
      .set('prefer', 'respond-async, wait=0')
      .send({ from: 'trial', decisions: [] });
  const first = await ask().expect(202);
  expect(first.body).toMatchObject({ kind: 'merge', state: 'waiting' });
  const { id } = first.body as { id: string };
  expect((await ask().expect(202)).body).toMatchObject({ id });

  await whileAnotherWorks(world.server, async () => {
    await until(async () => {
      const job = await http.get(first.headers['location']!).expect(200);
      expect(job.body).toMatchObject({ id, kind: 'merge', state: 'done' });
    });
  });

  // No worker is there by now: what it found is kept, and is what is posted.
  const { body } = await ask().expect(200);
  const preview = body as {
    ours: { commit: string };
    theirs: { commit: string };
    result: string;
    message: string;
  };
  expect(preview).toMatchObject({
    kind: 'merged',
    conflicts: [],
    change: { entered: expect.any(Array) as unknown[] },
  });
  await http
    .post(world.at('/merges/post'))
    .send({
      from: 'trial',
      decisions: [],
      ours: preview.ours.commit,
      theirs: preview.theirs.commit,
      result: preview.result,
      message: preview.message,
    })
    .expect(201);
  expect(await world.repository.git('show', 'main:apps/kit/ledger.project.toml')).toContain(
    '~1.0.0',
  );
  await world.stop();
  await world.server.stop();
});
