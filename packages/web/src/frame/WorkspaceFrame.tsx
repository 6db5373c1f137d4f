import { useState } from 'react';
import { Link, Navigate, Outlet, useLocation, useParams } from 'react-router';
import { DraftPanel } from '../draft/DraftPanel';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { short } from '../parts/words';
import type { Post, WorkspaceState } from '../api/client';
import { useLive } from '../live/useLive';
import { Index } from './Index';
import { KeyList } from './KeyList';
import { Search } from './Search';
import { Troubles } from './Troubles';
import { useDraftInHand } from './useDraftInHand';
import { useWorkspace } from './useWorkspace';

/** What every page of a workspace gets from the frame. */
export interface FrameContext {
  readonly slug: string;
  readonly state: WorkspaceState | undefined;
  readonly draftId: string | null;
  readonly takeDraft: (id: string | null) => void;
}

/** The index, the page, and the draft in hand while there is one. */
export function WorkspaceFrame() {
  const { slug = '' } = useParams();
  useLive(slug);
  const workspace = useWorkspace(slug);
  const draft = useDraftInHand(slug);
  const [isSheetUp, setSheetUp] = useState(false);
  const [posted, setPosted] = useState<Post | null>(null);
  const context: FrameContext = {
    slug,
    state: workspace.data,
    draftId: draft.id,
    takeDraft: draft.take,
  };
  const hasDraft = draft.id !== null;
  const page = useLocation().pathname.split('/')[3];
  const isToBringIn = workspace.data?.bringIn === 'needed';
  return (
    <div
      className={`grid min-h-screen grid-cols-1 max-fold:grid-rows-[auto_1fr] fold:grid-cols-[184px_minmax(0,1fr)] ${hasDraft ? 'wide:grid-cols-[184px_minmax(0,1fr)_288px]' : 'wide:grid-cols-[184px_minmax(0,1fr)_26px]'}`}
    >
      <div className="fold:sticky fold:top-0 fold:h-screen">
        <Index slug={slug} state={workspace.data} />
      </div>
      <main className="max-w-[1560px] min-w-0 px-5 pt-4 pb-16 max-fold:px-3">
        {posted !== null && (
          <div className="pb-3">
            <PostedNotice slug={slug} post={posted} onClose={() => setPosted(null)} />
          </div>
        )}
        {workspace.isError && (
          <div className="pb-3">
            <ErrorNotice error={workspace.error} onRetry={() => void workspace.refetch()} />
          </div>
        )}
        {workspace.data !== undefined && !isToBringIn && <Troubles state={workspace.data} />}
        {workspace.data?.bringIn === 'prepared' && page !== 'bring-in' && (
          <div className="pb-3">
            <Notice kind="word" title="Not written yet">
              This repository is read with files that it does not have. Any draft adds them.{' '}
              <Link className="text-agreed underline" to={`/w/${slug}/bring-in?step=proof`}>
                Bring it in
              </Link>
            </Notice>
          </div>
        )}
        {isToBringIn && page !== 'bring-in' && page !== 'team' ? (
          <Navigate to={`/w/${slug}/bring-in`} replace />
        ) : (
          (workspace.data !== undefined || !workspace.isError) && <Outlet context={context} />
        )}
      </main>
      {hasDraft ? (
        <aside
          aria-label="Draft in hand"
          className={`border-rule-strong bg-paper max-wide:fixed max-wide:inset-x-0 max-wide:bottom-0 max-wide:z-10 max-wide:border-t-3 max-wide:[border-top-style:double] wide:sticky wide:top-0 wide:h-screen wide:border-l ${isSheetUp ? 'max-wide:h-[70vh]' : 'max-wide:h-11'} overflow-hidden`}
        >
          <button
            type="button"
            aria-expanded={isSheetUp}
            onClick={() => setSheetUp(!isSheetUp)}
            className="flex h-11 w-full items-center justify-between px-4 font-semibold wide:hidden"
          >
            <span>Draft in hand</span>
            <span className="text-ink-2">{isSheetUp ? 'fold away' : 'show'}</span>
          </button>
          {workspace.data !== undefined && (
            <DraftPanel
              slug={slug}
              state={workspace.data}
              id={draft.id}
              onTake={draft.take}
              onPosted={setPosted}
            />
          )}
        </aside>
      ) : (
        <aside
          aria-label="Draft in hand"
          title="Nothing is in pencil. Open a package that is out of line, choose a version in its panel, and pencil it in; nothing is written before you post."
          className="sticky top-0 h-screen border-l border-rule-strong pt-6 text-center text-sm text-ink-3 italic max-wide:hidden"
        >
          <span className="[writing-mode:vertical-rl]">no draft</span>
        </aside>
      )}
      <KeyList />
      <Search slug={slug} state={workspace.data} />
    </div>
  );
}

interface PostedProps {
  readonly slug: string;
  readonly post: Post;
  readonly onClose: () => void;
}

function PostedNotice({ slug, post, onClose }: PostedProps) {
  return (
    <Notice kind="word" title={`Posted to ${post.branch}`}>
      <code className="font-mono">{short(post.commit)}</code> {post.message.split('\n')[0]}.{' '}
      <Link className="text-agreed underline" to={`/w/${slug}/journal`}>
        See the journal
      </Link>{' '}
      <Button look="text" onClick={onClose}>
        Put away
      </Button>
    </Notice>
  );
}
