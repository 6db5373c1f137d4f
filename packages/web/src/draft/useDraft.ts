import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, ApiError, type Draft, type DraftSummary, type Edit } from '../api/client';

/** A draft, evaluated at the head of the branch. */
export function useDraft(slug: string, id: string | null, commit: string | undefined) {
  return useQuery<Draft>({
    queryKey: ['draft', slug, id, commit],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/drafts/{id}', {
          params: { path: { slug, id: id! } },
          signal,
        }),
      ),
    enabled: id !== null && commit !== undefined,
    placeholderData: (before) => (before?.id === id ? before : undefined),
  });
}

/** Takes a changed draft into what the page knows. */
export function useTakeDraft(slug: string) {
  const queries = useQueryClient();
  return (draft: Draft): void => {
    queries.setQueryData(['draft', slug, draft.id, draft.base], draft);
    const { id, name, edits, updatedAt } = draft;
    const summary = { id, name, edits: edits.length, updatedAt };
    queries.setQueryData(['drafts', slug], (list: DraftSummary[] | undefined) =>
      list?.some((one) => one.id === id)
        ? list.map((one) => (one.id === id ? summary : one))
        : [...(list ?? []), summary],
    );
    void queries.invalidateQueries({ queryKey: ['bench', slug] });
  };
}

export function useSetEdits(slug: string, id: string) {
  const take = useTakeDraft(slug);
  return useMutation({
    mutationFn: (edits: Edit[]) =>
      answer(
        api.PUT('/api/workspaces/{slug}/drafts/{id}/edits', {
          params: { path: { slug, id } },
          body: { edits },
        }),
      ),
    onSuccess: take,
  });
}

export function useChangeDraft(slug: string, id: string) {
  const take = useTakeDraft(slug);
  return useMutation({
    mutationFn: (body: { name?: string; base?: string }) =>
      answer(
        api.PATCH('/api/workspaces/{slug}/drafts/{id}', { params: { path: { slug, id } }, body }),
      ),
    onSuccess: take,
  });
}

/** Is the draft gone, posted or thrown away by someone else? */
export function isGone(error: unknown): boolean {
  return error instanceof ApiError && error.code === 'DRAFT_UNKNOWN';
}
