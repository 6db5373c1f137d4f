import { useState } from 'react';
import { Outlet, useParams } from 'react-router';
import { DraftPanel } from '../draft/DraftPanel';
import { ErrorNotice } from '../parts/ErrorNotice';
import type { WorkspaceState } from '../api/client';
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

/** Three zones: the index, the page, the draft in hand. */
export function WorkspaceFrame() {
  const { slug = '' } = useParams();
  useLive(slug);
  const workspace = useWorkspace(slug);
  const draft = useDraftInHand(slug);
  const [isSheetUp, setSheetUp] = useState(false);
  const context: FrameContext = {
    slug,
    state: workspace.data,
    draftId: draft.id,
    takeDraft: draft.take,
  };
  return (
    <div className="grid min-h-screen grid-cols-1 fold:grid-cols-[184px_minmax(0,1fr)] wide:grid-cols-[184px_minmax(0,1fr)_288px]">
      <div className="fold:sticky fold:top-0 fold:h-screen">
        <Index slug={slug} state={workspace.data} />
      </div>
      <main className="max-w-[1280px] min-w-0 px-5 pt-4 pb-16 max-fold:px-3">
        {workspace.isError && (
          <div className="pb-3">
            <ErrorNotice error={workspace.error} onRetry={() => void workspace.refetch()} />
          </div>
        )}
        {workspace.data !== undefined && <Troubles state={workspace.data} />}
        {(workspace.data !== undefined || !workspace.isError) && <Outlet context={context} />}
      </main>
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
          <DraftPanel slug={slug} state={workspace.data} id={draft.id} onTake={draft.take} />
        )}
      </aside>
      <KeyList />
      <Search slug={slug} state={workspace.data} />
    </div>
  );
}
