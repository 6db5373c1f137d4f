import { getDataSourceToken } from '@nestjs/typeorm';
import { pino } from 'pino';
import type { DataSource } from 'typeorm';
import { afterAll, beforeAll, expect, test, vi } from 'vitest';
import { createApp } from '../create-app.js';
import { FILES, REGISTRY } from '../test/small-world.js';
import { TestWorkspace } from '../test/test-workspace.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { JobsService } from './jobs.service.js';
import { Queue } from './queue.js';
import { until } from '../test/until.js';

let world: TestWorkspace;
let jobs: JobsService;
let entity: WorkspaceEntity;

beforeAll(async () => {
  world = await TestWorkspace.open(FILES, REGISTRY);
  jobs = world.server.nest.get(JobsService, { strict: false });
  entity = await world.server.nest.get(WorkspaceService, { strict: false }).bySlug(world.slug);
});
afterAll(() => world.stop());

const state = async (key: string) => (await jobs.latest(entity, 'scan', key))?.state;

test('a job that is sent many times is done once', async () => {
  let runs = 0;
  let end = (): void => undefined;
  jobs.register('scan', () => {
    runs += 1;
    return new Promise((resolve) => {
      end = resolve;
    });
  });
  await jobs.begin(entity, 'scan', 'often');
  const job = await jobs.latest(entity, 'scan', 'often');
  const queue = world.server.nest.get(Queue, { strict: false });
  for (let i = 0; i < 5; i++) await queue.send(job!.id, 'waited-for');
  await until(() => expect(runs).toBe(1));
  // Another process takes all of it out of the queue, and nothing comes of it.
  const other = await createApp(world.server.settings, pino({ level: 'silent' }));
  other.get(JobsService, { strict: false }).register('scan', () => {
    runs += 1;
    return Promise.resolve();
  });
  await until(async () => {
    const left = await world.server.query(
      `SELECT FROM "queue"."job" WHERE "state" IN ('created', 'retry')`,
    );
    expect(left).toEqual([]);
  });
  await other.close();
  expect(runs).toBe(1);
  end();
  await until(async () => expect(await state('often')).toBe('done'));
});

test('a job that hangs frees its place when somebody stops it', async () => {
  const begun: string[] = [];
  jobs.register('scan', (_entity, key) => {
    begun.push(key);
    return key === 'hangs' ? new Promise(() => undefined) : Promise.resolve();
  });
  await jobs.begin(entity, 'scan', 'hangs');
  await until(() => expect(begun).toContain('hangs'));
  await jobs.begin(entity, 'scan', 'behind it');
  const job = await jobs.latest(entity, 'scan', 'hangs');
  await jobs.stop(entity, job!.id);
  await until(async () => expect(await state('behind it')).toBe('done'));
  expect(await state('hangs')).toBe('stopped');
});

test('a job that waits behind others is waited for, however long they take', async () => {
  let end = (): void => undefined;
  const busy = new Promise<void>((begun) => {
    jobs.register('scan', (_entity, key) => {
      if (key !== 'long') return Promise.resolve();
      begun();
      return new Promise((resolve) => {
        end = resolve;
      });
    });
  });
  await jobs.begin(entity, 'scan', 'long');
  await busy;
  await jobs.begin(entity, 'scan', 'behind');
  await world.server.query(
    `UPDATE "job" SET "created_at" = now() - interval '5 minutes' WHERE "key" = 'behind'`,
  );
  const looks = vi.spyOn(jobs, 'latest');
  const waited = jobs.finish(entity, 'scan', 'behind');
  await Promise.race([waited, until(() => expect(looks.mock.calls.length).toBeGreaterThan(2))]);
  looks.mockRestore();
  expect(await state('behind')).toBe('waiting');
  end();
  await waited;
});

test('what a process that closes has begun has not failed: it is left to others', async () => {
  const begun: string[] = [];
  jobs.register('scan', (_entity, key) => {
    begun.push(key);
    return new Promise(() => undefined);
  });
  await jobs.begin(entity, 'scan', 'left');
  await until(() => expect(begun).toContain('left'));
  await world.server.halt();
  const settings = { ...world.server.settings, works: false };
  const other = await createApp(settings, pino({ level: 'silent' }));
  const left = await other.get(JobsService, { strict: false }).latest(entity, 'scan', 'left');
  await other.close();
  await world.server.boot();
  expect(left).toMatchObject({ state: 'running', trouble: null });
});

test('where no process takes jobs up, whoever waits is told', async () => {
  await world.server.halt();
  const settings = { ...world.server.settings, works: false };
  const other = await createApp(settings, pino({ level: 'silent' }));
  const jobsOfOther = other.get(JobsService, { strict: false });
  await jobsOfOther.begin(entity, 'scan', 'nobody');
  await other
    .get<DataSource>(getDataSourceToken())
    .query(
      `UPDATE "job" SET "created_at" = now() - interval '5 minutes', "lease_until" = "lease_until" - interval '5 minutes'`,
    );
  await expect(jobsOfOther.finish(entity, 'scan', 'nobody')).rejects.toMatchObject({
    code: 'WORK_WAITING',
  });
  await other.close();
  await world.server.boot();
});
