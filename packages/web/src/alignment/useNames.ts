import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';

/** What packages and projects are called, for lists to choose from: a small part of Alignment. */
export function useNames(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: ['names', slug, commit],
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/names', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}
