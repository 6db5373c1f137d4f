import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { api } from '../api/client';
import { BatchTable } from './BatchTable';

const FAILED = { code: 'WORK_FAILED', detail: 'The registry fell silent.', problems: [] };
const NOTHING = { commit: 'c', of: 0, offers: [], left: [], price: null };

function showTable() {
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
}

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
  showTable();
  await screen.findByText('The registry fell silent.');
  expect(screen.getAllByText('nothing newer')).toHaveLength(2);
  await userEvent.click(screen.getByRole('button', { name: 'Try again: Patches and minors' }));
  await waitFor(() => expect(screen.getAllByText('nothing newer')).toHaveLength(3));
  expect(screen.queryByText('The registry fell silent.')).toBeNull();
});

test('what is taken at a smaller step is not told as left out', async () => {
  const offer = (name: string, to: string) => ({ name, to });
  const left = (name: string, to: string) => ({
    offer: offer(name, to),
    against: ['It has no answer.'],
  });
  const batch = (of: number, ...out: readonly object[]) => ({
    ...NOTHING,
    of,
    offers: [offer('log', '1.0.1'), offer('json', '2.0.0')],
    left: out,
  });
  const batches: Readonly<Record<string, object>> = {
    patch: batch(3, left('moon', '1.0.2')),
    minor: batch(2, left('log', '1.1.0')),
    major: batch(3, left('log', '1.1.0'), left('moon', '2.0.0')),
  };
  vi.spyOn(api, 'GET').mockImplementation(((
    _url: string,
    { params }: { params: { query: { take: string } } },
  ) => Promise.resolve({ data: batches[params.query.take], response: new Response() })) as never);
  showTable();
  for (const [title, figure, said] of [
    ['All patches', '2 of 3', '1 left out, with its reason'],
    ['Patches and minors', '2 of 2', '1 at a smaller step, with its reason'],
    ['All, majors too', '2 of 3', '1 left out, 1 at a smaller step, each with its reason'],
  ] as const) {
    const row = (await screen.findByText(title)).closest('tr')!;
    await waitFor(() => expect(row.textContent).toContain(figure));
    expect(row.querySelector('summary')?.textContent).toBe(said);
  }
});
