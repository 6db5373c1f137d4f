import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { act, fireEvent, render, screen, waitFor } from '@testing-library/react';
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router';
import { expect, test, vi } from 'vitest';
import { api } from '../api/client';
import { draftInHand, useDraftInHand } from './useDraftInHand';

const DRAFTS = [
  { id: 'old', name: 'old', author: '', isMine: true, edits: 1, updatedAt: '2026-11-01T00:00:00Z' },
  { id: 'new', name: 'new', author: '', isMine: true, edits: 1, updatedAt: '2026-11-02T00:00:00Z' },
];

function Frame() {
  const { take } = useDraftInHand('brindlepeak');
  return (
    <>
      <button onClick={() => take('new')}>take the new one</button>
      <Outlet />
    </>
  );
}

/** A frame around two pages; the second is there only once `arrive` is called. */
function show(address: string) {
  vi.spyOn(api, 'GET').mockResolvedValue({ data: DRAFTS, response: new Response() } as never);
  let arrive = (): void => {};
  const arrival = new Promise<void>((resolve) => {
    arrive = resolve;
  });
  const router = createMemoryRouter(
    [
      {
        Component: Frame,
        children: [
          { path: '/here', element: <p>here</p> },
          {
            path: '/there',
            lazy: async () => {
              await arrival;
              return { Component: () => <p>there</p> };
            },
          },
        ],
      },
    ],
    { initialEntries: [address] },
  );
  render(
    <QueryClientProvider client={new QueryClient()}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return { router, arrive };
}

test('the draft in hand is the one in the address, else the one changed last', () => {
  expect(draftInHand('old', DRAFTS)).toBe('old');
  expect(draftInHand('elsewhere', [])).toBe('elsewhere');
  expect(draftInHand(null, DRAFTS)).toBe('new');
  expect(draftInHand(null, [])).toBeNull();
});

test('somebody else’s draft is in hand only where the address names it', () => {
  const theirs = { ...DRAFTS[1]!, id: 'theirs', isMine: false };
  expect(draftInHand(null, [theirs])).toBeNull();
  expect(draftInHand(null, [DRAFTS[0]!, theirs])).toBe('old');
  expect(draftInHand('theirs', [DRAFTS[0]!, theirs])).toBe('theirs');
});

test('a draft that is taken stands in the address', async () => {
  const { router } = show('/here?q=elm');
  fireEvent.click(await screen.findByRole('button'));
  await waitFor(() => expect(router.state.location.search).toBe('?q=elm&draft=new'));
});

test.each(['/here', '/here?draft=new', '/here?draft=old'])(
  'taking a draft does not break off a move to another page (from %s)',
  async (address) => {
    const { router, arrive } = show(address);
    await screen.findByText('here');
    act(() => void router.navigate('/there'));
    fireEvent.click(screen.getByRole('button'));
    act(() => arrive());
    await screen.findByText('there');
    expect(router.state.location.pathname).toBe('/there');
  },
);
