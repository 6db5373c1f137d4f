import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, ApiError, type Draft, type DraftSummary, type Edit } from '../api/client';
import { keys } from '../api/keys';

/** A draft, evaluated at the head of the branch. */
export function useDraft(slug: string, id: string | null, commit: string | undefined) {
  const queryKey = keys.draft(slug, id, commit);
  return useQuery<Draft>({
    queryKey,
    queryFn: async ({ signal, client }) => {
      const draft = await answer(
        api.GET('/api/workspaces/{slug}/drafts/{id}', {
          params: { path: { slug, id: id! } },
          signal,
        }),
      );
      return laterOf(client.getQueryData(queryKey), draft);
    },
    enabled: id !== null && commit !== undefined,
    placeholderData: (before) => (before?.id === id ? before : undefined),
  });
}

/** Answers about one draft may come in another order than it changed in. */
function laterOf(known: Draft | undefined, draft: Draft): Draft {
  return known !== undefined && known.revision > draft.revision ? known : draft;
}

/** The edits of a draft that count. */
export function countingEdits(draft: Draft | undefined): readonly Edit[] {
  return draft?.edits.flatMap(({ edit, isOut }) => (isOut ? [] : [edit])) ?? [];
}

/** Takes a changed draft into what the page knows. */
export function useTakeDraft(slug: string) {
  const queries = useQueryClient();
  return (draft: Draft): void => {
    const queryKey = keys.draft(slug, draft.id, draft.base);
    const later = laterOf(queries.getQueryData(queryKey), draft);
    queries.setQueryData(queryKey, later);
    const { id, name, author, isMine, updatedAt } = later;
    const summary = { id, name, author, isMine, edits: countingEdits(later).length, updatedAt };
    queries.setQueryData(keys.drafts(slug), (list: DraftSummary[] | undefined) =>
      list?.some((one) => one.id === id)
        ? list.map((one) => (one.id === id ? summary : one))
        : [...(list ?? []), summary],
    );
    // A draft may have made packages known that the package panel's model lacks.
    void queries.invalidateQueries({ queryKey: keys.panel(slug) });
  };
}

/** An edit in its place in a draft. */
export type Entry = Pick<Draft['edits'][number], 'edit' | 'isOut'>;

/** Changes that are made to a draft as it is seen: reordering, taking out, putting back, undoing. One after another. */
export function useReviseDraft(slug: string, { id, revision }: Pick<Draft, 'id' | 'revision'>) {
  const take = useTakeDraft(slug);
  const queries = useQueryClient();
  const path = { params: { path: { slug, id } } };
  return useMutation({
    scope: { id: `revise ${id}` },
    mutationFn: (change: 'undo' | 'redo' | { readonly entries: readonly Entry[] }) => {
      if (change === 'undo')
        return answer(api.POST('/api/workspaces/{slug}/drafts/{id}/undo', path));
      if (change === 'redo')
        return answer(api.POST('/api/workspaces/{slug}/drafts/{id}/redo', path));
      const entries = change.entries.map(({ edit, isOut }) => ({ edit, isOut }));
      return answer(
        api.PUT('/api/workspaces/{slug}/drafts/{id}/entries', {
          ...path,
          body: { revision, entries },
        }),
      );
    },
    onSuccess: take,
    onError: (error) => {
      if (error instanceof ApiError && error.code === 'DRAFT_CHANGED')
        void queries.invalidateQueries({ queryKey: keys.draft(slug, id) });
    },
  });
}

export function useChangeDraft(slug: string, id: string) {
  const take = useTakeDraft(slug);
  return useMutation({
    mutationFn: (body: { name?: string; base?: string }) =>
      answer(
        api.PATCH('/api/workspaces/{slug}/drafts/{id}', {
          params: { path: { slug, id } },
          body,
          // A name is settled by going away from it, also from the page.
          keepalive: true,
        }),
      ),
    onSuccess: take,
  });
}

/** Was a step back or forth asked for where there is none? */
export function isNothingToStep(error: unknown): boolean {
  return error instanceof ApiError && error.code === 'NOTHING_TO_UNDO';
}

/** Is the draft gone, posted or thrown away by someone else? */
export function isGone(error: unknown): boolean {
  return error instanceof ApiError && error.code === 'DRAFT_UNKNOWN';
}
