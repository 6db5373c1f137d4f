import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';
import type { ArchivesView } from './archives-view';

/** What the mirror keeps, a page of lines at a time. */
export function useArchives(
  slug: string,
  commit: string | undefined,
  query: ArchivesView & { readonly search: string },
) {
  return useQuery({
    queryKey: keys.archives(slug, commit, query),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/archives', {
          params: { path: { slug }, query },
          signal,
        }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Hashes everything again, and tries once more to get what is missing. */
export function useCheckArchives(slug: string) {
  return useMutation({
    mutationFn: () =>
      answer(api.POST('/api/workspaces/{slug}/archives/check', { params: { path: { slug } } })),
  });
}

export function useClearArchives(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (unusedForDays: number) =>
      answer(
        api.POST('/api/workspaces/{slug}/archives/clear', {
          params: { path: { slug } },
          body: { unusedForDays },
        }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.archives(slug) }),
  });
}
