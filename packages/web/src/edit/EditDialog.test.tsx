import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { createMemoryRouter, Outlet, RouterProvider } from 'react-router';
import { expect, test, vi } from 'vitest';
import { api } from '../api/client';
import { addForm, everywhereForm, pinForm } from './edit-forms';
import { EditDialog } from './EditDialog';
import type { EditForm } from './form';

const PROJECTS = [
  { folder: 'apps/web', name: 'web' },
  { folder: 'apps/kit', name: 'kit' },
];

/** The dialog in a frame whose draft is in hand; what it sends is kept. */
function show(form: EditForm, answer: object = { id: 'd', edits: [], base: 'b' }, status = 200) {
  const sent: { readonly url: string; readonly body: unknown }[] = [];
  vi.spyOn(api, 'POST').mockImplementation(((url: string, { body }: { body: unknown }) => {
    sent.push({ url, body });
    const response = new Response(null, { status });
    return Promise.resolve(status < 300 ? { data: answer, response } : { error: answer, response });
  }) as never);
  const onClose = vi.fn();
  const state = { head: { commit: 'c' } };
  const context = { slug: 'small', state, draftId: 'd', takeDraft: vi.fn() };
  const router = createMemoryRouter([
    {
      path: '/',
      element: <Outlet context={context} />,
      children: [{ index: true, element: <EditDialog form={form} onClose={onClose} /> }],
    },
  ]);
  const queries = new QueryClient({ defaultOptions: { queries: { retry: false } } });
  render(
    <QueryClientProvider client={queries}>
      <RouterProvider router={router} />
    </QueryClientProvider>,
  );
  return { sent, onClose };
}

const pencil = (): HTMLElement => screen.getByRole('button', { name: 'Pencil it in' });

test('what is asked for becomes an edit, and the dialog closes', async () => {
  const { sent, onClose } = show(pinForm('', '', [], [], ['tarn-json']));
  const user = userEvent.setup();
  expect(pencil()).toHaveProperty('disabled', true);
  await user.type(screen.getByLabelText('Package'), 'tarn-json');
  await user.type(screen.getByLabelText('Version'), ' 1.3.1 ');
  await user.click(pencil());
  await waitFor(() => expect(onClose).toHaveBeenCalledOnce());
  expect(sent).toEqual([
    {
      url: '/api/workspaces/{slug}/drafts/{id}/edits',
      body: { edits: [{ kind: 'pin', package: 'tarn-json', version: '1.3.1' }] },
    },
  ]);
});

test('several projects are chosen by their boxes; none is not enough', async () => {
  const { sent } = show(addForm(PROJECTS, ['apps/web'], []));
  const user = userEvent.setup();
  await user.type(screen.getByLabelText('Package'), 'tarn-json');
  await user.click(screen.getByLabelText('web'));
  expect(pencil()).toHaveProperty('disabled', true);
  await user.click(screen.getByLabelText('kit'));
  await user.selectOptions(screen.getByLabelText('Kind'), 'dev');
  await user.click(pencil());
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]!.body).toEqual({
    edits: [
      {
        kind: 'add-requirement',
        package: 'tarn-json',
        range: 'shared',
        as: 'dev',
        projects: ['apps/kit'],
      },
    ],
  });
});

test('a line of everywhere begins with what it says, projects named either way', async () => {
  const known = {
    package: 'lint',
    range: '^1.0.0',
    kind: 'dev',
    except: ['kit'],
    newest: null,
    place: { file: 'ledger.shared.toml', line: 1, column: 1 },
  } as const;
  const { sent } = show(everywhereForm({ ...known, except: [...known.except] }, PROJECTS, []));
  await userEvent.setup().click(pencil());
  await waitFor(() => expect(sent).toHaveLength(1));
  expect(sent[0]!.body).toEqual({
    edits: [
      { kind: 'everywhere', package: 'lint', range: '^1.0.0', as: 'dev', except: ['apps/kit'] },
    ],
  });
});

test('a refusal is said, and what was typed stays', async () => {
  const problem = {
    type: 'about:blank',
    title: 'The registry could not be read',
    status: 503,
    detail: 'Nothing can be resolved now.',
    code: 'REGISTRY_INCOMPLETE',
    problems: [],
  };
  const { onClose } = show(pinForm('tarn-json', '1.3.1', []), problem, 503);
  await userEvent.setup().click(pencil());
  expect((await screen.findByRole('alert')).textContent).toContain('Nothing can be resolved now.');
  expect(onClose).not.toHaveBeenCalled();
  expect(screen.getByLabelText('Version')).toHaveProperty('value', '1.3.1');
});

test('a package that no registry has is refused while it is typed', async () => {
  const asked: unknown[] = [];
  vi.spyOn(api, 'GET').mockImplementation(((_: string, { params }: { params: object }) => {
    asked.push((params as { path: { name: string } }).path.name);
    const error = {
      code: 'PACKAGE_UNKNOWN',
      detail: 'main has no package tarn. Did you mean tarn-json?',
    };
    return Promise.resolve({ error, response: new Response(null, { status: 404 }) });
  }) as never);
  show(addForm(PROJECTS, ['apps/web'], ['tarn-json']));
  const user = userEvent.setup();
  const field = screen.getByLabelText('Package');
  await user.type(field, 'tarn');
  expect(
    await screen.findByText('main has no package tarn. Did you mean tarn-json?'),
  ).toBeDefined();
  expect(pencil()).toHaveProperty('disabled', true);
  await user.type(field, '-json');
  await waitFor(() => expect(pencil()).toHaveProperty('disabled', false));
  await user.clear(field);
  await user.type(field, 'kit');
  await waitFor(() => expect(pencil()).toHaveProperty('disabled', false));
  expect(asked).not.toContain('tarn-json');
  expect(asked).not.toContain('kit');
});
