import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';

/** Who stands on which lockfile; what was known before stays visible while it is asked for again. */
export function useMachines(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.machines(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/machines', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}
