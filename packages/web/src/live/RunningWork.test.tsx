import { fireEvent, screen, waitFor } from '@testing-library/react';
import { expect, test } from 'vitest';
import type { Job } from '../api/client';
import { serverAnswers, showInFrame } from '../test/show-in-frame';
import { RunningWork } from './RunningWork';

const JOBS = 'GET /api/workspaces/{slug}/jobs';
const STOP = 'DELETE /api/workspaces/{slug}/jobs/{job}';
const AGAIN = 'POST /api/workspaces/{slug}/jobs/{job}/again';
const SESSION = 'GET /api/session';

const job = (id: string, kind: Job['kind'], state: Job['state'], more: Partial<Job> = {}): Job => ({
  id,
  kind,
  state,
  done: 0,
  total: 0,
  trouble: null,
  updatedAt: '2026-11-01T00:00:00Z',
  ...more,
});

function show(jobs: readonly Job[]) {
  const me = { account: { role: 'editor' } };
  const asked = serverAnswers({ [JOBS]: jobs, [SESSION]: me, [STOP]: {}, [AGAIN]: {} });
  showInFrame(<RunningWork slug="small" />);
  return asked;
}

test('each kind of work is told once, by its newest, and what is done is not', async () => {
  show([
    job('1', 'clearing', 'running', { done: 3, total: 12 }),
    job('2', 'clearing', 'failed'),
    job('3', 'scan', 'done'),
    job('4', 'drift', 'waiting'),
  ]);
  const list = await screen.findByRole('list', { name: 'Work under way' });
  expect(list.textContent).toContain('clearing everything');
  expect(list.textContent).toContain('3 of 12');
  expect(list.textContent).toContain('drift over the year');
  expect(list.textContent).not.toContain('scan');
  expect(list.textContent).not.toContain('failed');
  expect(screen.getAllByRole('progressbar')).toHaveLength(2);
});

test.each([
  ['running', 'stop', STOP],
  ['stopped', 'begin again', AGAIN],
  ['failed', 'begin again', AGAIN],
] as const)('work that is %s: %s', async (state, name, what) => {
  const asked = show([job('j', 'draft', state, { trouble: 'The registry is down.' })]);
  fireEvent.click(await screen.findByRole('button', { name }));
  await waitFor(() =>
    expect(asked.find((one) => one.what === what)?.init).toMatchObject({
      params: { path: { slug: 'small', job: 'j' } },
    }),
  );
});

test('nothing is shown where nothing is under way', async () => {
  const asked = show([job('1', 'scan', 'done')]);
  await waitFor(() => expect(asked.some(({ what }) => what === JOBS)).toBe(true));
  expect(screen.queryByRole('list')).toBeNull();
});
