import { describe, expect, test } from 'vitest';
import { answer, ApiError } from './client';

function response(status: number): Response {
  return new Response(null, { status: status === 0 ? 200 : status });
}

async function failure(
  request: Promise<{ data?: unknown; error?: unknown; response: Response }>,
): Promise<ApiError> {
  const error = await answer(request).then(
    () => null,
    (thrown: unknown) => thrown,
  );
  if (!(error instanceof ApiError)) throw new Error('no ApiError was thrown');
  return error;
}

describe('an answer', () => {
  test('is its data', async () => {
    expect(await answer(Promise.resolve({ data: { a: 1 }, response: response(200) }))).toEqual({
      a: 1,
    });
  });

  test('that is a problem document becomes an error with its code and words', async () => {
    const problem = {
      type: 't',
      title: 'The branch moved',
      status: 409,
      detail: 'Look again.',
      code: 'BRANCH_MOVED',
      problems: [],
    };
    const error = await failure(Promise.resolve({ error: problem, response: response(409) }));
    expect([error.code, error.message, error.problem.title]).toEqual([
      'BRANCH_MOVED',
      'Look again.',
      'The branch moved',
    ]);
  });

  test('that is anything else says that the server cannot be reached, with the status', async () => {
    const error = await failure(Promise.resolve({ error: '<html>', response: response(502) }));
    expect(error.problem).toMatchObject({ code: 'UNREACHABLE', status: 502 });
  });

  test('that never came says so', async () => {
    const error = await failure(Promise.reject(new TypeError('Failed to fetch')));
    expect(error.problem).toMatchObject({ code: 'UNREACHABLE', status: 0 });
    expect(error.message).toMatch(/See whether bin\/start is still running/);
  });
});
