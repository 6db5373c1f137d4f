import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useId, useState, type FormEvent } from 'react';
import { answer, api, ApiError, type Draft, type Post } from '../api/client';
import { Button } from '../parts/Button';
import { Dialog } from '../parts/Dialog';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { count } from '../parts/words';

interface Props {
  readonly slug: string;
  readonly branch: string;
  readonly draft: Draft;
  readonly onClose: () => void;
  readonly onPosted: (post: Post) => void;
}

/** The last look before ink: message and author of the commit. */
export function PostDialog({ slug, branch, draft, onClose, onPosted }: Props) {
  const [message, setMessage] = useState(draft.message);
  const [authorName, setAuthorName] = useState(() => localStorage.getItem('author-name') ?? '');
  const [authorEmail, setAuthorEmail] = useState(() => localStorage.getItem('author-email') ?? '');
  const messageId = useId();
  const queries = useQueryClient();
  const post = useMutation({
    mutationFn: () =>
      answer(
        api.POST('/api/workspaces/{slug}/drafts/{id}/post', {
          params: { path: { slug, id: draft.id } },
          body: {
            base: draft.base,
            message,
            authorName: authorName.trim(),
            authorEmail: authorEmail.trim(),
          },
        }),
      ),
    onSuccess: async (written) => {
      localStorage.setItem('author-name', authorName.trim());
      localStorage.setItem('author-email', authorEmail.trim());
      onPosted(written);
      onClose();
      await Promise.all(
        ['workspace', 'drafts', 'posts', 'bench'].map((key) =>
          queries.invalidateQueries({ queryKey: [key, slug] }),
        ),
      );
    },
    onError: async (error) => {
      if (!(error instanceof ApiError) || error.code !== 'BRANCH_MOVED') return;
      await queries.invalidateQueries({ queryKey: ['workspace', slug] });
    },
  });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    post.mutate();
  };
  return (
    <Dialog
      open
      onClose={onClose}
      title={`Post to ${branch}`}
      about={`${count(draft.evaluation.files.length, 'file')} in one commit. What is posted can be seen in the journal and in git.`}
    >
      <form onSubmit={submit} className="flex flex-col gap-3">
        <div className="flex flex-col gap-0.5">
          <label htmlFor={messageId} className="font-semibold">
            Message
          </label>
          <textarea
            id={messageId}
            required
            rows={7}
            value={message}
            onChange={(event) => setMessage(event.target.value)}
            className="rounded-sm border border-rule-strong bg-leaf px-2 py-1 font-mono text-sm"
          />
        </div>
        <div className="grid grid-cols-2 gap-3 max-fold:grid-cols-1">
          <Field
            label="Author"
            required
            value={authorName}
            onChange={(e) => setAuthorName(e.target.value)}
            autoComplete="name"
          />
          <Field
            label="E-mail"
            required
            type="email"
            value={authorEmail}
            onChange={(e) => setAuthorEmail(e.target.value)}
            autoComplete="email"
          />
        </div>
        {post.isError && <ErrorNotice error={post.error} />}
        <div className="flex gap-2">
          <Button type="submit" disabled={post.isPending}>
            {post.isPending ? 'Posting' : 'Post'}
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not yet
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
