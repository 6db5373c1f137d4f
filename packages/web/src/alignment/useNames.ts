import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';

/** What packages and projects are called, for lists to choose from: a small part of Alignment. */
export function useNames(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.names(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/names', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}
