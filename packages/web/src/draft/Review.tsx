import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { answer, api, type Draft, type Review as ReviewOfDraft } from '../api/client';
import { keys } from '../api/keys';
import { putAnswer } from '../api/put-answer';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { ago } from '../parts/words';
import { useNow } from '../frame/useNow';
import { useIs } from '../session/useSession';

type SeenDraft = Pick<Draft, 'id' | 'revision' | 'base' | 'evaluation'>;

/** An approval is of one revision on one head with one lockfile. */
function keyOf(slug: string, { id, revision, base, evaluation }: SeenDraft) {
  return keys.review(slug, id, revision, base, evaluation.consequences?.sum);
}

export function useReview(slug: string, draft: SeenDraft) {
  const { id } = draft;
  return useQuery<ReviewOfDraft>({
    queryKey: keyOf(slug, draft),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/drafts/{id}/review', {
          params: { path: { slug, id } },
          signal,
        }),
      ),
    placeholderData: (before) => before,
  });
}

/** What others say of the draft in hand: approvals, and comments on it and its edits. */
export function Review({ slug, draft }: { readonly slug: string; readonly draft: Draft }) {
  const review = useReview(slug, draft);
  const queries = useQueryClient();
  const now = useNow();
  const mayDraft = useIs('editor');
  const [text, setText] = useState('');
  const [about, setAbout] = useState('');
  const [isWriting, setWriting] = useState(false);
  const path = { slug, id: draft.id };
  const sum = draft.evaluation.consequences?.sum;
  const act = useMutation({
    mutationFn: (work: () => Promise<ReviewOfDraft>) => work(),
    onSuccess: (found) => putAnswer(queries, keyOf(slug, draft), found),
    onError: () => queries.invalidateQueries({ queryKey: keys.draft(slug, draft.id) }),
  });
  if (review.data === undefined)
    return review.isError ? <ErrorNotice error={review.error} /> : null;
  const { needsApproval, isApproved, mayApprove, approvals, comments } = review.data;
  const mine = approvals.find(({ isMine, isCurrent }) => isMine && isCurrent);
  const comment = (event: FormEvent): void => {
    event.preventDefault();
    act.mutate(
      () =>
        answer(
          api.POST('/api/workspaces/{slug}/drafts/{id}/comments', {
            params: { path },
            body: { text, ...(about === '' ? {} : { entry: Number(about) }) },
          }),
        ),
      {
        onSuccess: () => {
          setText('');
          setWriting(false);
        },
      },
    );
  };
  return (
    <section aria-label="Review" className="flex flex-col gap-1.5 text-sm">
      <h3 className="border-b border-rule font-serif text-base text-ink-2 italic">review</h3>
      {needsApproval && (
        <p className={isApproved ? 'text-agreed' : 'text-caution'}>
          {isApproved ? 'Approved as it stands.' : 'A post waits for a second person’s approval.'}
        </p>
      )}
      {approvals.map((one) => (
        <p key={one.name} className={one.isCurrent ? '' : 'text-ink-3'}>
          {one.name} approved it {ago(one.at, now)}
          {!one.isCurrent && ', as it was before'}
        </p>
      ))}
      {comments.map((one) => (
        <div key={one.id}>
          <p className="text-ink-2">
            {one.name}, {ago(one.at, now)}
            {one.entry !== null && `, on edit ${one.entry + 1}`}
            {one.isOfGoneEdit && ', on an edit that is gone'}
            {one.isMine && (
              <>
                {' · '}
                <Button
                  look="text"
                  onClick={() =>
                    act.mutate(() =>
                      answer(
                        api.DELETE('/api/workspaces/{slug}/drafts/{id}/comments/{comment}', {
                          params: { path: { ...path, comment: one.id } },
                        }),
                      ),
                    )
                  }
                >
                  remove
                </Button>
              </>
            )}
          </p>
          <p className="[overflow-wrap:anywhere] whitespace-pre-wrap">{one.text}</p>
        </div>
      ))}
      {mayDraft && (
        <div className="flex gap-4">
          {!isWriting && (
            <Button look="text" onClick={() => setWriting(true)}>
              comment…
            </Button>
          )}
          {mine !== undefined ? (
            <Button
              look="text"
              onClick={() =>
                act.mutate(() =>
                  answer(
                    api.DELETE('/api/workspaces/{slug}/drafts/{id}/approval', { params: { path } }),
                  ),
                )
              }
            >
              take approval back
            </Button>
          ) : (
            mayApprove &&
            sum !== undefined && (
              <Button
                look="text"
                onClick={() =>
                  act.mutate(() =>
                    answer(
                      api.PUT('/api/workspaces/{slug}/drafts/{id}/approval', {
                        params: { path },
                        body: { revision: draft.revision, base: draft.base, sum },
                      }),
                    ),
                  )
                }
              >
                approve it as it stands
              </Button>
            )
          )}
        </div>
      )}
      {isWriting && (
        <form onSubmit={comment} className="flex flex-col gap-1">
          <textarea
            aria-label="Comment"
            required
            autoFocus
            rows={2}
            value={text}
            onChange={(event) => setText(event.target.value)}
            className="rounded-sm border border-rule-strong bg-leaf px-2 py-1"
          />
          <div className="flex items-center gap-2">
            <select
              aria-label="About"
              value={about}
              onChange={(event) => setAbout(event.target.value)}
              className="h-[26px] min-w-0 flex-1 rounded-sm border border-rule-strong bg-leaf px-1"
            >
              <option value="">the whole draft</option>
              {draft.edits.map(({ words }, i) => (
                <option key={i} value={String(i)}>
                  edit {i + 1}: {words.subject} {words.verb}
                </option>
              ))}
            </select>
            <Button type="submit" look="text" disabled={act.isPending}>
              say it
            </Button>
            <Button look="text" onClick={() => setWriting(false)}>
              leave it
            </Button>
          </div>
        </form>
      )}
      {act.isError && <ErrorNotice error={act.error} />}
    </section>
  );
}
