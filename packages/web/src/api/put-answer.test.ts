import { waitFor } from '@testing-library/react';
import { QueryClient, QueryObserver } from '@tanstack/react-query';
import { expect, test } from 'vitest';
import { putAnswer } from './put-answer';

test('an answer that was on its way does not take the place of what a change was answered with', async () => {
  const queries = new QueryClient();
  const answers: ((state: object) => void)[] = [];
  const observer = new QueryObserver(queries, {
    queryKey: ['state'],
    queryFn: ({ signal }) =>
      new Promise<object>((resolve, reject) => {
        answers.push(resolve);
        signal.addEventListener('abort', () => reject(new Error('aborted')));
      }),
  });
  const stop = observer.subscribe(() => undefined);
  answers[0]!({ is: 'first' });
  await waitFor(() => expect(observer.getCurrentResult().data).toEqual({ is: 'first' }));
  const asked = queries.invalidateQueries({ queryKey: ['state'] });
  await waitFor(() => expect(answers).toHaveLength(2));
  putAnswer(queries, ['state'], { is: 'changed' });
  answers[1]!({ is: 'first' });
  await asked;
  expect(observer.getCurrentResult()).toMatchObject({
    data: { is: 'changed' },
    fetchStatus: 'idle',
  });
  stop();
});
