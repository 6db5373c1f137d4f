import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';

/** The Sheet at a commit; the one before stays visible while the next is read. */
export function useSheet(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: ['sheet', slug, commit],
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/sheet', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** One package at its bench, costed on top of the draft in hand. */
export function useBench(
  slug: string,
  name: string,
  commit: string | undefined,
  draft: string | null,
) {
  return useQuery({
    queryKey: ['bench', slug, name, commit, draft],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/packages/{name}', {
          params: { path: { slug, name }, query: draft === null ? {} : { draft } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
}
