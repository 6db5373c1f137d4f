import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import userEvent from '@testing-library/user-event';
import { expect, test, vi } from 'vitest';
import { api, type Draft, type DraftEdit } from '../api/client';
import { DraftEdits } from './DraftEdits';
import { countingEdits } from './useDraft';

function edit(name: string, more: Partial<DraftEdit> = {}): DraftEdit {
  return {
    edit: { kind: 'unpin', package: name },
    isOut: false,
    words: { subject: name, verb: 'no longer pinned', from: '1.0.0', to: null, detail: null },
    problem: null,
    leftOut: null,
    endsAnswer: false,
    ...more,
  };
}

function show(edits: readonly DraftEdit[], more: Partial<Draft> = {}) {
  const sent: { readonly method: string; readonly url: string; readonly body: unknown }[] = [];
  for (const method of ['PUT', 'POST'] as const) {
    vi.spyOn(api, method).mockImplementation(((url: string, { body }: { body: unknown }) => {
      sent.push({ method, url, body });
      const data = { id: 'd', base: 'b', edits: [] };
      return Promise.resolve({ data, response: new Response(null, { status: 200 }) });
    }) as never);
  }
  const draft = { id: 'd', revision: 7, edits, canUndo: false, canRedo: false, ...more } as Draft;
  const queries = new QueryClient();
  const panel = (now: Draft) => (
    <QueryClientProvider client={queries}>
      <DraftEdits slug="small" draft={now} />
    </QueryClientProvider>
  );
  const { rerender } = render(panel(draft));
  return {
    sent,
    become: (now: readonly DraftEdit[]) => rerender(panel({ ...draft, edits: [...now] })),
  };
}

const named = (entries: unknown): unknown =>
  (entries as { entries: { edit: { package: string }; isOut: boolean }[] }).entries.map(
    ({ edit: { package: name }, isOut }) => [name, isOut],
  );

test('an edit is taken out, put back, moved and forgotten, each on the revision that was seen', async () => {
  const { sent } = show([edit('a'), edit('b', { isOut: true }), edit('c')]);
  for (const [label, expected] of [
    [
      'Take out: a no longer pinned',
      [
        ['a', true],
        ['b', true],
        ['c', false],
      ],
    ],
    [
      'Put back: b no longer pinned',
      [
        ['a', false],
        ['b', false],
        ['c', false],
      ],
    ],
    [
      'Move up: c no longer pinned',
      [
        ['a', false],
        ['c', false],
        ['b', true],
      ],
    ],
    [
      'Forget: b no longer pinned',
      [
        ['a', false],
        ['c', false],
      ],
    ],
  ] as const) {
    const count = sent.length;
    await waitFor(() => expect(screen.getByLabelText(label)).toHaveProperty('disabled', false));
    fireEvent.click(screen.getByLabelText(label));
    await waitFor(() => expect(sent).toHaveLength(count + 1));
    expect(sent.at(-1)).toMatchObject({
      method: 'PUT',
      url: '/api/workspaces/{slug}/drafts/{id}/entries',
      body: { revision: 7 },
    });
    expect(named(sent.at(-1)!.body)).toEqual(expected);
  }
  expect(screen.getByLabelText('Move up: a no longer pinned')).toHaveProperty('disabled', true);
  expect(screen.getByLabelText('Move down: c no longer pinned')).toHaveProperty('disabled', true);
});

test('an edit that is moved by keys takes the focus with it, to either end', async () => {
  const [a, b, c] = [edit('a'), edit('b'), edit('c')];
  const { sent, become } = show([a, b, c]);
  const hasFocus = (label: string) =>
    waitFor(() => expect(document.activeElement).toBe(screen.getByLabelText(label)));
  screen.getByLabelText('Move up: c no longer pinned').focus();
  await userEvent.keyboard('{Enter}');
  await waitFor(() => expect(sent).toHaveLength(1));
  become([a, c, b]);
  await hasFocus('Move up: c no longer pinned');
  await userEvent.keyboard('{Enter}');
  await waitFor(() => expect(sent).toHaveLength(2));
  expect(named(sent[1]!.body)).toEqual([
    ['c', false],
    ['a', false],
    ['b', false],
  ]);
  become([c, a, b]);
  await hasFocus('Move up: c no longer pinned');
  screen.getByLabelText('Move down: a no longer pinned').focus();
  await userEvent.keyboard('{Enter}');
  await waitFor(() => expect(sent).toHaveLength(3));
  become([c, b, a]);
  await hasFocus('Move down: a no longer pinned');
});

test('undoing and doing again is offered where there is something, by keys too', async () => {
  const { sent } = show([edit('a')], { canUndo: true, canRedo: true });
  fireEvent.click(screen.getByRole('button', { name: 'Undo' }));
  await waitFor(() => expect(sent.at(-1)?.url).toMatch(/\/undo$/));
  await waitFor(() =>
    expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', false),
  );
  fireEvent.keyDown(window, { key: 'Z', ctrlKey: true, shiftKey: true });
  await waitFor(() => expect(sent.at(-1)?.url).toMatch(/\/redo$/));
});

test('a step that keys ask for while another is under way comes after it; beyond the last there is nothing to say', async () => {
  show([edit('a')], { canUndo: true });
  const answers: ((answer: object) => void)[] = [];
  vi.spyOn(api, 'POST').mockImplementation(
    (() => new Promise((resolve) => answers.push(resolve))) as never,
  );
  const undo = () => fireEvent.keyDown(window, { key: 'z', ctrlKey: true });
  undo();
  await waitFor(() =>
    expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', true),
  );
  undo();
  undo();
  expect(answers).toHaveLength(1);
  const data = { id: 'd', base: 'b', edits: [] };
  answers[0]!({ data, response: new Response(null, { status: 200 }) });
  await waitFor(() => expect(answers).toHaveLength(2));
  answers[1]!({ data, response: new Response(null, { status: 200 }) });
  await waitFor(() => expect(answers).toHaveLength(3));
  const error = {
    status: 409,
    code: 'NOTHING_TO_UNDO',
    title: 'Nothing to undo',
    detail: '',
    problems: [],
  };
  answers[2]!({ error, response: new Response(null, { status: 409 }) });
  await waitFor(() =>
    expect(screen.getByRole('button', { name: 'Undo' })).toHaveProperty('disabled', false),
  );
  expect(screen.queryByRole('alert')).toBeNull();
});

test('keys undo nothing where there is nothing to undo', () => {
  const { sent } = show([edit('a')]);
  fireEvent.keyDown(window, { key: 'z', ctrlKey: true });
  expect(sent).toEqual([]);
  expect(screen.queryByRole('button', { name: 'Undo' })).toBeNull();
});

test('what no longer applies, and where the answer ends, is said beside the edit', () => {
  show([edit('a', { problem: 'a is not pinned any more.' }), edit('b', { endsAnswer: true })]);
  const [first, second] = screen.getAllByRole('listitem').map((node) => node.textContent);
  expect(first).toContain('a is not pinned any more.');
  expect(second).toContain('From here on there is no answer.');
});

test('edits that are out do not count', () => {
  const draft = { edits: [edit('a'), edit('b', { isOut: true })] } as unknown as Draft;
  expect(countingEdits(draft)).toEqual([{ kind: 'unpin', package: 'a' }]);
  expect(countingEdits(undefined)).toEqual([]);
});
