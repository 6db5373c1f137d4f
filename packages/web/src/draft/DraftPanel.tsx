import { useEffect, useEffectEvent, useState } from 'react';
import { Link, useSearchParams } from 'react-router';
import type { Draft, Post, WorkspaceState } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { short } from '../parts/words';
import { useIs } from '../session/useSession';
import { DraftConsequences } from './DraftConsequences';
import { DraftEdits } from './DraftEdits';
import { DraftName } from './DraftName';
import { OpenTerms } from './OpenTerms';
import { PostDialog } from './PostDialog';
import { Review, useReview } from './Review';
import { isGone, useChangeDraft, useDraft } from './useDraft';
import { useIsPencilling } from './usePencil';
import { SuggestedFixes } from './SuggestedFixes';

interface Props {
  readonly slug: string;
  readonly state: WorkspaceState;
  readonly id: string | null;
  readonly onTake: (id: string | null) => void;
  readonly onPosted: (post: Post) => void;
}

/** The draft in hand: what is in pencil, and what would come of it. */
export function DraftPanel({ slug, state, id, onTake, onPosted }: Props) {
  const draft = useDraft(slug, id, state.head.commit);
  const gone = isGone(draft.error);
  const letGo = useEffectEvent(() => onTake(null));
  useEffect(() => {
    if (gone) letGo();
  }, [gone]);
  return (
    <div className="flex h-full flex-col gap-3 px-[18px] pt-5 pb-4 max-wide:h-[calc(100%-44px)] max-wide:pt-0">
      {draft.isError && !gone && (
        <ErrorNotice error={draft.error} onRetry={() => void draft.refetch()} />
      )}
      {draft.data === undefined || gone ? (
        !draft.isError && <p className="text-sm text-ink-2">Reading the draft.</p>
      ) : (
        <DraftInHand
          slug={slug}
          branch={state.branch}
          draft={draft.data}
          onTake={onTake}
          onPosted={(post) => {
            onPosted(post);
            onTake(null);
          }}
        />
      )}
    </div>
  );
}

interface InHandProps {
  readonly slug: string;
  readonly branch: string;
  readonly draft: Draft;
  readonly onTake: (id: string) => void;
  readonly onPosted: (post: Post) => void;
}

function DraftInHand({ slug, branch, draft, onTake, onPosted }: InHandProps) {
  const [isPosting, setPosting] = useState(false);
  const [params] = useSearchParams();
  const change = useChangeDraft(slug, draft.id);
  const { evaluation } = draft;
  const mayPost = useIs('keeper');
  const review = useReview(slug, draft).data;
  const isPencilling = useIsPencilling(slug);
  const canPost =
    mayPost &&
    !isPencilling &&
    review?.isApproved !== false &&
    evaluation.kind === 'answered' &&
    evaluation.consequences?.openTerms.length === 0 &&
    evaluation.files.length > 0;
  const query = new URLSearchParams(params);
  query.set('draft', draft.id);
  return (
    <>
      <div className="flex min-h-0 flex-1 flex-col gap-3 overflow-auto">
        <div>
          <DraftName
            key={draft.id}
            name={draft.name}
            onChange={(name) => change.mutate({ name })}
          />
          <p className="text-sm text-ink-2">
            {draft.isMine ? (
              'yours'
            ) : (
              <b className="font-semibold text-caution">{draft.author}’s</b>
            )}{' '}
            · in pencil until it is posted · on{' '}
            <code className="font-mono">{short(draft.base)}</code>
          </p>
        </div>
        {draft.carriedFrom !== null && (
          <Notice kind="caution" title="The branch moved">
            <p>
              From <code className="font-mono">{short(draft.carriedFrom)}</code> to{' '}
              <code className="font-mono">{short(draft.base)}</code>. The draft was carried over;
              what you see is its outcome there.
            </p>
            <Button look="text" onClick={() => change.mutate({ base: draft.base })}>
              I have seen it
            </Button>
          </Notice>
        )}
        {change.isError && <ErrorNotice error={change.error} />}
        <DraftEdits slug={slug} draft={draft} />
        <OpenTerms
          open={draft.evaluation.consequences?.openTerms ?? []}
          frame={{ slug, draftId: draft.id, takeDraft: onTake }}
          draftName={draft.name}
        />
        <DraftConsequences draft={draft} />
        {evaluation.kind === 'unanswered' && (
          <SuggestedFixes draft={draft} frame={{ slug, draftId: draft.id, takeDraft: onTake }} />
        )}
        <Review slug={slug} draft={draft} />
      </div>
      <div className="flex shrink-0 gap-2 pt-1">
        <Button
          disabled={!canPost}
          title={mayPost ? undefined : 'A keeper posts; this draft is there for them to see.'}
          onClick={() => setPosting(true)}
        >
          Post to {branch}…
        </Button>
        {evaluation.files.length > 0 && (
          <Link
            to={`/w/${slug}/diff?${query.toString()}`}
            className="rounded-sm border-[1.5px] border-agreed px-2.5 py-1 font-semibold whitespace-nowrap text-agreed hover:bg-agreed-wash"
          >
            Read the diff
          </Link>
        )}
      </div>
      {isPosting && (
        <PostDialog
          slug={slug}
          branch={branch}
          draft={draft}
          onClose={() => setPosting(false)}
          onPosted={onPosted}
        />
      )}
    </>
  );
}
