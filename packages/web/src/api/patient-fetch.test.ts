import { afterEach, beforeEach, expect, test, vi } from 'vitest';
import { patientFetch } from './patient-fetch';

const QUESTION = 'http://127.0.0.1/api/workspaces/lifts/findings';
const JOB = '/api/workspaces/lifts/jobs/7';

/** What the server answers, one after another. */
let answers: Response[];
const asked: { url: string; method: string; body: string; prefer: string | null }[] = [];

const goesOn = (): Response => new Response('{}', { status: 202, headers: { location: JOB } });
const job = (state: string): Response => Response.json({ state });

beforeEach(() => {
  vi.useFakeTimers({ toFake: ['setTimeout', 'clearTimeout'] });
  asked.length = 0;
  vi.stubGlobal('fetch', async (input: Request | string) => {
    const request = typeof input === 'string' ? null : input;
    asked.push({
      url: request?.url ?? (input as string),
      method: request?.method ?? 'GET',
      body: (await request?.text()) ?? '',
      prefer: request?.headers.get('prefer') ?? null,
    });
    return answers.shift()!;
  });
});
afterEach(() => {
  vi.useRealTimers();
  vi.unstubAllGlobals();
});

test('an answer is an answer', async () => {
  answers = [Response.json({ a: 1 })];
  expect(await (await patientFetch(new Request(QUESTION))).json()).toEqual({ a: 1 });
  expect(asked).toMatchObject([{ url: QUESTION, prefer: 'respond-async' }]);
});

test('a question that waits for a job is asked again, as it was, once the job is over', async () => {
  answers = [goesOn(), job('waiting'), job('running'), job('done'), Response.json({ a: 1 })];
  const request = new Request(QUESTION, { method: 'POST', body: '{"moves":[]}' });
  const answer = patientFetch(request);
  await vi.advanceTimersByTimeAsync(10_000);
  expect(await (await answer).json()).toEqual({ a: 1 });
  expect(asked.map(({ url, method, body }) => [method, url, body])).toEqual([
    ['POST', QUESTION, '{"moves":[]}'],
    ['GET', JOB, ''],
    ['GET', JOB, ''],
    ['GET', JOB, ''],
    ['POST', QUESTION, '{"moves":[]}'],
  ]);
});

test('a job that is gone has nothing to wait for', async () => {
  answers = [goesOn(), new Response(null, { status: 404 }), Response.json({ a: 2 })];
  const answer = patientFetch(new Request(QUESTION));
  await vi.advanceTimersByTimeAsync(1_000);
  expect(await (await answer).json()).toEqual({ a: 2 });
});

test('what says no more than to wait is read to its end', async () => {
  const passed = [goesOn(), Response.json({ code: 'JOB_UNKNOWN' }, { status: 404 })];
  answers = [...passed, Response.json({ a: 2 })];
  const answer = patientFetch(new Request(QUESTION));
  await vi.advanceTimersByTimeAsync(1_000);
  await answer;
  expect(passed.map(({ bodyUsed }) => bodyUsed)).toEqual([true, true]);
});

test('whoever gives up waits no longer', async () => {
  answers = [goesOn(), job('waiting')];
  const over = new AbortController();
  const answer = patientFetch(new Request(QUESTION, { signal: over.signal }));
  const failed = answer.catch((error: unknown) => error);
  await vi.advanceTimersByTimeAsync(300);
  over.abort(new Error('left the page'));
  expect(await failed).toMatchObject({ message: 'left the page' });
  await vi.advanceTimersByTimeAsync(10_000);
  expect(asked).toHaveLength(2);
});
