import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render } from '@testing-library/react';
import type { ReactElement } from 'react';
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router';
import { vi } from 'vitest';
import { api } from '../api/client';

const STATE = {
  branch: 'main',
  head: {
    commit: 'c'.repeat(40),
    subject: 'Last',
    author: 'gate crew',
    at: '2026-11-01T00:00:00Z',
  },
  lock: { state: 'consistent', sum: '7c1e90abcdef', copies: 3, reasons: [] },
};

/** An answer of the server, or what it says against the request. */
export type Answer = object | { readonly status: number; readonly problem: object };

/** What the server is asked, by method and path, with what it answers. Any other request gets no answer. */
export function serverAnswers(answers: Readonly<Record<string, Answer>>) {
  const asked: { readonly what: string; readonly init: unknown }[] = [];
  for (const method of ['GET', 'POST', 'PUT', 'PATCH', 'DELETE'] as const)
    vi.spyOn(api, method).mockImplementation(((path: string, init: unknown) => {
      const what = `${method} ${path}`;
      asked.push({ what, init });
      const found = answers[what];
      if (found === undefined) return new Promise(() => {});
      if ('problem' in found) {
        const { status, problem } = found as { status: number; problem: object };
        return Promise.resolve({ error: problem, response: new Response(null, { status }) });
      }
      return Promise.resolve({ data: found, response: new Response() });
    }) as never);
  return asked;
}

/** Shows an element as a page of a workspace. */
export function showInFrame(element: ReactElement, address = '/w/small/page') {
  const context = { slug: 'small', state: STATE, draftId: null, takeDraft: vi.fn() };
  const router = createMemoryRouter(
    [
      {
        path: '/w/:slug',
        element: <Outlet context={context} />,
        children: [{ path: '*', element }],
      },
    ],
    { initialEntries: [address] },
  );
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return { router };
}
