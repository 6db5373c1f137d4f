import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, renderHook, waitFor } from '@testing-library/react';
import type { ReactNode } from 'react';
import { expect, test, vi } from 'vitest';
import { api, type Draft } from '../api/client';
import { keys } from '../api/keys';
import { useChangeDraft, useDraft, useTakeDraft } from './useDraft';

const draftAt = (revision: number): Draft =>
  ({ id: 'd', base: 'b', revision, name: 'storm', edits: [] }) as unknown as Draft;

/** A draft in hand, whose answers come when the test says so. */
function inHand() {
  const answers: ((draft: Draft) => void)[] = [];
  vi.spyOn(api, 'GET').mockImplementation(
    (() =>
      new Promise((resolve) =>
        answers.push((data) => resolve({ data, response: new Response() })),
      )) as never,
  );
  const queries = new QueryClient();
  const { result } = renderHook(
    () => {
      useDraft('small', 'd', 'b');
      return useTakeDraft('small');
    },
    {
      wrapper: ({ children }: { readonly children: ReactNode }) => (
        <QueryClientProvider client={queries}>{children}</QueryClientProvider>
      ),
    },
  );
  return {
    queries,
    answers,
    revision: () => queries.getQueryData<Draft>(keys.draft('small', 'd', 'b'))?.revision,
    take: (draft: Draft) => act(() => result.current(draft)),
  };
}

test('an answer that was on its way when the draft changed does not bring the earlier state back', async () => {
  const { queries, answers, revision, take } = inHand();
  answers[0]!(draftAt(1));
  await waitFor(() => expect(revision()).toBe(1));
  const asking = queries.invalidateQueries({ queryKey: keys.draft('small', 'd') });
  await waitFor(() => expect(answers).toHaveLength(2));
  take(draftAt(2));
  await waitFor(() => expect(revision()).toBe(2));
  answers[1]!(draftAt(1));
  await act(() => asking);
  expect(revision()).toBe(2);
});

test('nor does the answer to a change, where the draft has changed again since', async () => {
  const { answers, revision, take } = inHand();
  answers[0]!(draftAt(3));
  await waitFor(() => expect(revision()).toBe(3));
  take(draftAt(2));
  expect(revision()).toBe(3);
  take(draftAt(4));
  await waitFor(() => expect(revision()).toBe(4));
});

test('a new name is sent even where the page is left at once', async () => {
  const change = vi
    .spyOn(api, 'PATCH')
    .mockResolvedValue({ data: draftAt(2), response: new Response() } as never);
  const { result } = renderHook(() => useChangeDraft('small', 'd'), {
    wrapper: ({ children }: { readonly children: ReactNode }) => (
      <QueryClientProvider client={new QueryClient()}>{children}</QueryClientProvider>
    ),
  });
  await act(() => result.current.mutateAsync({ name: 'rain' }));
  expect(change.mock.lastCall).toMatchObject([
    '/api/workspaces/{slug}/drafts/{id}',
    { body: { name: 'rain' }, keepalive: true },
  ]);
});
