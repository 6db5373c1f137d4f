import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useId, useState, type FormEvent } from 'react';
import { answer, api, ApiError, type Draft, type Post } from '../api/client';
import { keys } from '../api/keys';
import { Choice } from '../parts/Choice';
import { Button } from '../parts/Button';
import { Dialog } from '../parts/Dialog';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Field } from '../parts/Field';
import { count } from '../parts/words';
import { useAccount } from '../session/useSession';

interface Props {
  readonly slug: string;
  readonly branch: string;
  readonly draft: Draft;
  readonly onClose: () => void;
  readonly onPosted: (post: Post) => void;
}

/** What a draft is called, as a branch can be. */
function branchName(name: string): string {
  const plain = name.toLowerCase().replace(/[^a-z0-9]+/g, '-');
  return plain.replace(/^-+|-+$/g, '') || 'draft';
}

/** Refusals after which the page behind the dialog is out of date. */
const OVERTAKEN = new Set(['BRANCH_MOVED', 'DRAFT_CHANGED', 'DRAFT_DIFFERS']);

/** The last look before ink: branch and message of the commit. */
export function PostDialog({ slug, branch, draft, onClose, onPosted }: Props) {
  // The dialog posts the draft as it stood when the dialog opened, whatever others do meanwhile.
  const [seen] = useState(draft);
  const [message, setMessage] = useState(draft.message);
  const account = useAccount();
  const [target, setTarget] = useState<'same' | 'new'>('same');
  const [newBranch, setNewBranch] = useState(() => branchName(draft.name));
  const messageId = useId();
  const queries = useQueryClient();
  const post = useMutation({
    mutationFn: () =>
      answer(
        api.POST('/api/workspaces/{slug}/drafts/{id}/post', {
          params: { path: { slug, id: draft.id } },
          body: {
            base: seen.base,
            revision: seen.revision,
            sum: seen.evaluation.consequences?.sum ?? '',
            message,
            ...(target === 'new' ? { branch: newBranch.trim() } : {}),
          },
        }),
      ),
    onSuccess: async (written) => {
      onPosted(written);
      onClose();
      await Promise.all(
        [keys.workspace, keys.drafts, keys.journal, keys.panel].map((key) =>
          queries.invalidateQueries({ queryKey: key(slug) }),
        ),
      );
    },
    onError: async (error) => {
      if (!(error instanceof ApiError) || !OVERTAKEN.has(error.code)) return;
      await Promise.all(
        [keys.workspace, keys.draft].map((key) =>
          queries.invalidateQueries({ queryKey: key(slug) }),
        ),
      );
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
      title={`Post to ${target === 'same' ? branch : 'a new branch'}`}
      about={`${count(draft.evaluation.files.length, 'file')} in one commit. What is posted can be seen in the journal and in git.`}
    >
      <form onSubmit={submit} className="flex flex-col gap-3">
        <div className="flex flex-wrap items-end gap-3">
          <Choice
            label="Where to"
            value={target}
            onChange={setTarget}
            options={[
              { value: 'same', text: `To ${branch}` },
              { value: 'new', text: 'To a new branch' },
            ]}
          />
          {target === 'new' && (
            <Field
              label="Name of the branch"
              required
              value={newBranch}
              onChange={(event) => setNewBranch(event.target.value)}
              className="font-mono text-sm"
            />
          )}
        </div>
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
        {account !== null && (
          <p className="text-sm text-ink-2">
            {seen.isMine
              ? `The commit is from ${account.shownName} <${account.email}>.`
              : `The commit’s author is ${seen.author}, who began the draft; it is posted by ${account.shownName}.`}
          </p>
        )}
        {post.isError && <ErrorNotice error={post.error} />}
        <div className="flex gap-2">
          <Button type="submit" disabled={post.isPending || message.trim() === ''}>
            {post.isPending ? 'Posting' : 'Post'}
          </Button>
          <Button look="quiet" onClick={onClose}>
            Not yet
          </Button>
          <a
            className="ml-auto self-center text-sm text-agreed underline decoration-rule-strong underline-offset-3"
            href={`/api/workspaces/${slug}/drafts/${draft.id}/patch`}
            download={`${branchName(draft.name)}.patch`}
          >
            Save as a patch for git am
          </a>
        </div>
      </form>
    </Dialog>
  );
}
