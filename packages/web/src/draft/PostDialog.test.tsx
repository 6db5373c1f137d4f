import { QueryClient, QueryClientProvider } from '@tanstack/react-query';
import { fireEvent, render, screen, waitFor } from '@testing-library/react';
import { describe, expect, test, vi } from 'vitest';
import { api, type Draft } from '../api/client';
import { PostDialog } from './PostDialog';

const DRAFT = {
  id: 'd1',
  name: 'level scree-log',
  base: 'b'.repeat(40),
  revision: 3,
  author: 'platform crew',
  isMine: true,
  message: 'Agree on scree-log ^3.2.4\n',
  evaluation: { files: [{}, {}], consequences: { sum: 'a'.repeat(64) } },
} as unknown as Draft;

/** What the page sends, and the answer it gets. */
function answering(status: number, body: object) {
  const post = vi.fn(() =>
    Promise.resolve(
      status < 300
        ? { data: body, response: new Response(null, { status }) }
        : { error: body, response: new Response(null, { status }) },
    ),
  );
  vi.spyOn(api, 'POST').mockImplementation(post as never);
  return post;
}

function show() {
  const onClose = vi.fn();
  const onPosted = vi.fn();
  const queries = new QueryClient();
  const renewed = vi.spyOn(queries, 'invalidateQueries');
  render(
    <QueryClientProvider client={queries}>
      <PostDialog
        slug="brindlepeak"
        branch="main"
        draft={DRAFT}
        onClose={onClose}
        onPosted={onPosted}
      />
    </QueryClientProvider>,
  );
  return { onClose, onPosted, renewed };
}

function pressPost(): void {
  fireEvent.click(screen.getByRole('button', { name: 'Post' }));
}

test('the message is made of the edits and can be changed; the commit seen is what is posted on', async () => {
  const post = answering(201, { commit: 'c1' });
  const { onPosted, onClose, renewed } = show();
  expect(screen.getByText('2 files in one commit.', { exact: false })).toBeTruthy();
  const message = screen.getByLabelText<HTMLTextAreaElement>('Message');
  expect(message.value).toBe('Agree on scree-log ^3.2.4\n');
  fireEvent.change(message, { target: { value: 'Other words' } });
  pressPost();
  await waitFor(() => expect(onPosted).toHaveBeenCalledWith({ commit: 'c1' }));
  expect(post).toHaveBeenCalledWith('/api/workspaces/{slug}/drafts/{id}/post', {
    params: { path: { slug: 'brindlepeak', id: 'd1' } },
    body: {
      base: DRAFT.base,
      revision: 3,
      sum: 'a'.repeat(64),
      message: 'Other words',
    },
  });
  expect(onClose).toHaveBeenCalledOnce();
  expect(renewed.mock.calls.map(([filter]) => filter?.queryKey?.[0])).toEqual([
    'workspace',
    'drafts',
    'journal',
    'panel',
  ]);
});

test('a message of blanks alone cannot be posted', () => {
  show();
  fireEvent.change(screen.getByLabelText('Message'), { target: { value: ' \n ' } });
  const button = screen.getByRole<HTMLButtonElement>('button', { name: 'Post' });
  expect(button.disabled).toBe(true);
});

test('what is posted is what the dialog was opened on, and a refusal has the page read again', async () => {
  const post = answering(409, {
    status: 409,
    code: 'DRAFT_DIFFERS',
    title: 'The draft comes out otherwise now',
    detail: 'Since then: log 2.1.0 → 2.2.0.',
    problems: [],
  });
  const { renewed, onClose } = show();
  pressPost();
  expect(await screen.findByText(/log 2\.1\.0 → 2\.2\.0/)).toBeTruthy();
  expect(post).toHaveBeenCalledOnce();
  expect(onClose).not.toHaveBeenCalled();
  expect(renewed.mock.calls.map(([filter]) => filter?.queryKey?.[0])).toEqual([
    'workspace',
    'draft',
  ]);
});

test('whose the commit will be is said', async () => {
  vi.spyOn(api, 'GET').mockImplementation((() =>
    Promise.resolve({
      data: {
        account: { shownName: 'platform crew', email: 'p@brindlepeak.example', role: 'keeper' },
        csrf: 'x',
        isEmpty: false,
      },
      response: new Response(null, { status: 200 }),
    })) as never);
  show();
  expect(
    await screen.findByText('The commit is from platform crew <p@brindlepeak.example>.'),
  ).toBeTruthy();
});

describe('a post that is refused', () => {
  const problem = (code: string) => ({
    type: 't',
    title: 'Refused',
    status: 409,
    detail: `Because of ${code}.`,
    code,
    problems: [],
  });

  test('says why and stays open', async () => {
    answering(409, problem('POST_REFUSED'));
    const { onClose, onPosted, renewed } = show();
    pressPost();
    expect((await screen.findByRole('alert')).textContent).toMatch(
      /Refused.*Because of POST_REFUSED\./,
    );
    expect(onClose).not.toHaveBeenCalled();
    expect(onPosted).not.toHaveBeenCalled();
    expect(renewed).not.toHaveBeenCalled();
  });

  test('because the branch moved has the workspace read again', async () => {
    answering(409, problem('BRANCH_MOVED'));
    const { renewed } = show();
    pressPost();
    await waitFor(() =>
      expect(renewed).toHaveBeenCalledWith({ queryKey: ['workspace', 'brindlepeak'] }),
    );
  });
});
