import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { api } from '../api/client';
import { BatchTable } from './BatchTable';

const FAILED = { code: 'WORK_FAILED', detail: 'The registry fell silent.', problems: [] };
const NOTHING = { commit: 'c', of: 0, offers: [], left: [], price: null };

test('a batch that could not be tried says why, and is tried again when that is asked for', async () => {
  const asked: string[] = [];
  vi.spyOn(api, 'GET').mockImplementation(((
    _url: string,
    { params }: { params: { query: { take: string } } },
  ) => {
    const { take } = params.query;
    const isFirst = !asked.includes(take);
    asked.push(take);
    return Promise.resolve(
      take === 'minor' && isFirst
        ? { error: FAILED, response: new Response(null, { status: 503 }) }
        : { data: NOTHING, response: new Response(null, { status: 200 }) },
    );
  }) as never);
  render(
    <QueryClientProvider
      client={new QueryClient({ defaultOptions: { queries: { retry: false } } })}
    >
      <BatchTable
        slug="small"
        commit="c"
        which={{ olderThan: 0 }}
        isPencilling={false}
        onPencil={vi.fn()}
      />
    </QueryClientProvider>,
  );
  await screen.findByText('The registry fell silent.');
  expect(screen.getAllByText('nothing newer')).toHaveLength(2);
  await userEvent.click(screen.getByRole('button', { name: 'Try again: Patches and minors' }));
  await vi.waitFor(() => expect(screen.getAllByText('nothing newer')).toHaveLength(3));
  expect(screen.queryByText('The registry fell silent.')).toBeNull();
});
