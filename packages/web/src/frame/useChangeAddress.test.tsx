import { render, screen, waitFor } from '@testing-library/react';
import { createMemoryRouter, RouterProvider, useLocation } from 'react-router';
import { expect, test } from 'vitest';
import { useChangeAddress } from './useChangeAddress';

function Filters() {
  const change = useChangeAddress();
  const hurry = (): void => {
    change({ scope: 'all' });
    change({ q: 'rime' });
    change({ view: null });
  };
  return <button onClick={hurry}>choose three at {useLocation().search}</button>;
}

function show(address: string) {
  const router = createMemoryRouter([{ path: '/here', Component: Filters }], {
    initialEntries: [address],
  });
  render(<RouterProvider router={router} />);
  return router;
}

test('what is chosen before the page has answered to the choice before is not lost', async () => {
  const router = show('/here?view=grid');
  (await screen.findByRole('button')).click();
  await waitFor(() => expect(router.state.location.search).toBe('?scope=all&q=rime'));
});

test('what is chosen after a step back begins from where one is', async () => {
  const router = show('/here?view=grid');
  (await screen.findByRole('button')).click();
  await waitFor(() => expect(router.state.location.search).toBe('?scope=all&q=rime'));
  await router.navigate('/here?set=moraine');
  (await screen.findByText('choose three at ?set=moraine')).click();
  await waitFor(() => expect(router.state.location.search).toBe('?set=moraine&scope=all&q=rime'));
});
