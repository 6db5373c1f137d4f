import { useMutation, useQueryClient } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { answer, api, type Draft, type DraftSummary } from '../api/client';
import { keys } from '../api/keys';
import { PageHead } from '../frame/PageHead';
import { useDrafts } from '../frame/useDraftInHand';
import { useNow } from '../frame/useNow';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { Step } from '../parts/Step';
import { ago, count } from '../parts/words';
import { DiffFile } from './DiffFile';
import { useDraft } from './useDraft';
import { beginDraft } from './usePencil';
import { EditorButton, EditorStep } from '../session/EditorButton';

/** What is about to change: all drafts, and the exact diff of the one in hand. */
export function DiffPage() {
  const { slug, state, draftId, takeDraft } = useOutletContext<FrameContext>();
  const drafts = useDrafts(slug);
  const draft = useDraft(slug, draftId, state?.head.commit);
  const list = drafts.data ?? [];
  const queries = useQueryClient();
  const begin = useMutation({
    mutationFn: () => beginDraft(slug),
    onSuccess: async (id) => {
      await queries.invalidateQueries({ queryKey: keys.drafts(slug) });
      takeDraft(id);
    },
  });
  return (
    <>
      <PageHead title="Drafts" state={state}>
        {list.length === 0
          ? 'Nothing is in pencil.'
          : `${count(list.length, 'draft')} in pencil. ${draft.data === undefined ? '' : diffWords(draft.data)}`}
      </PageHead>
      {drafts.isError && <ErrorNotice error={drafts.error} onRetry={() => void drafts.refetch()} />}
      <div className="pb-2">
        <EditorButton look="quiet" disabled={begin.isPending} onClick={() => begin.mutate()}>
          Begin another draft
        </EditorButton>
        {begin.isError && <ErrorNotice error={begin.error} />}
      </div>
      {drafts.isSuccess && (
        <DraftList slug={slug} drafts={list} inHand={draftId} onTake={takeDraft} />
      )}
      {drafts.isSuccess && list.length === 0 && (
        <p className="rule-double-top bg-leaf px-3 py-8 text-center text-ink-2">
          Open a package on Alignment and pencil a version in; its diff then stands here.
        </p>
      )}
      {draft.data !== undefined && (
        <div className="mt-5 flex flex-col gap-5">
          {draft.data.evaluation.files.map((file) => (
            <DiffFile key={file.path} file={file} />
          ))}
        </div>
      )}
    </>
  );
}

function diffWords({ name, evaluation: { files } }: Draft): string {
  if (files.length === 0) return `“${name}” changes no file.`;
  const added = files.reduce((sum, file) => sum + file.added, 0);
  const removed = files.reduce((sum, file) => sum + file.removed, 0);
  return `“${name}” changes ${count(files.length, 'file')}: ${count(added, 'line')} in, ${count(removed, 'line')} out.`;
}

interface ListProps {
  readonly slug: string;
  readonly drafts: readonly DraftSummary[];
  readonly inHand: string | null;
  readonly onTake: (id: string | null) => void;
}

function DraftList({ slug, drafts, inHand, onTake }: ListProps) {
  const now = useNow();
  const queries = useQueryClient();
  const renew = (): Promise<void> => queries.invalidateQueries({ queryKey: keys.drafts(slug) });
  const remove = useMutation({
    mutationFn: ({ id }: { readonly id: string; readonly name: string }) =>
      answer(api.DELETE('/api/workspaces/{slug}/drafts/{id}', { params: { path: { slug, id } } })),
    onSuccess: (_, { id }) => {
      if (id === inHand) onTake(null);
      return renew();
    },
  });
  const restore = useMutation({
    mutationFn: (id: string) =>
      answer(
        api.POST('/api/workspaces/{slug}/drafts/{id}/restore', { params: { path: { slug, id } } }),
      ),
    onSuccess: (_, id) => {
      remove.reset();
      onTake(id);
      return renew();
    },
  });
  return (
    <>
      {remove.isError && <ErrorNotice error={remove.error} />}
      {restore.isError && <ErrorNotice error={restore.error} />}
      {remove.isSuccess && (
        <Notice kind="word" title={`“${remove.variables.name}” was thrown away`}>
          <EditorButton
            look="text"
            disabled={restore.isPending}
            onClick={() => restore.mutate(remove.variables.id)}
          >
            Put it back
          </EditorButton>
        </Notice>
      )}
      <table className="rule-double-top w-full border-collapse bg-leaf empty:hidden">
        <tbody>
          {drafts.map(({ id, name, author, isMine, edits, updatedAt }) => (
            <tr
              key={id}
              className={`border-b border-rule ${id === inHand ? 'bg-agreed-wash' : ''}`}
            >
              <td className="px-2 py-1.5">
                <button
                  type="button"
                  aria-pressed={id === inHand}
                  onClick={() => onTake(id)}
                  className={`text-left ${id === inHand ? 'font-semibold' : 'text-agreed underline decoration-rule-strong underline-offset-3'}`}
                >
                  {name}
                </button>
                {id === inHand && <span className="ml-2 text-sm text-ink-2">in hand</span>}
              </td>
              <td className="px-2 py-1.5 text-sm text-ink-2">
                {isMine ? 'yours' : author}
                {!isMine && id !== inHand && (
                  <>
                    {' · '}
                    <Step label={`Take up “${name}” by ${author}`} onClick={() => onTake(id)}>
                      take it up
                    </Step>
                  </>
                )}
              </td>
              <td className="px-2 py-1.5 text-sm text-ink-2">{count(edits, 'edit')}</td>
              <td className="px-2 py-1.5 text-sm text-ink-2">changed {ago(updatedAt, now)}</td>
              <td className="px-2 py-1.5 text-right">
                <EditorStep
                  label={`Throw away “${name}”; it can be put back`}
                  disabled={remove.isPending}
                  onClick={() => remove.mutate({ id, name })}
                >
                  throw away
                </EditorStep>
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
