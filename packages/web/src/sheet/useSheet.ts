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

/** One package at its bench: all that is asked of it. */
export function useBench(slug: string, name: string, commit: string | undefined) {
  return useQuery({
    queryKey: ['bench', slug, name, commit],
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/packages/{name}', {
          params: { path: { slug, name } },
          signal,
        }),
      ),
    placeholderData: keepPreviousData,
  });
}
