import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type WorkspaceState } from '../api/client';
import { keys } from '../api/keys';
import { putAnswer } from '../api/put-answer';

const POLL_MS = 15_000;

/** How the workspace stands; asked again while the page is open. */
export function useWorkspace(slug: string) {
  return useQuery({
    queryKey: keys.workspace(slug),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}', { params: { path: { slug } }, signal })),
    refetchInterval: POLL_MS,
  });
}

/** Asks repository and registry now. */
export function useRefresh(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: () =>
      answer(api.POST('/api/workspaces/{slug}/refresh', { params: { path: { slug } } })),
    onSuccess: (state: WorkspaceState) => putAnswer(queries, keys.workspace(slug), state),
  });
}
