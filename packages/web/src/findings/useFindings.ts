import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';

const AGAIN_MS = 3000;
const MOST_ASKED = 100;

/** The findings at a commit; those before stay visible while the next are worked out. */
export function useFindings(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.findings(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/findings', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
    // Since when findings are there is worked out in the background; a history that fails ends the asking.
    refetchInterval: ({ state: { data, dataUpdateCount } }) =>
      data?.isHistoryKnown === false && dataUpdateCount < MOST_ASKED ? AGAIN_MS : false,
  });
}

/** How many findings are open. */
export function useFindingCount(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.findingCount(slug, commit),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/findings/count', { params: { path: { slug } }, signal }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/**
 * The edits that clear all that can be cleared. Worked out on the server, which takes seconds.
 * @param ticked names of findings that are perhaps so, and that a person has decided to clear
 */
export function useClearing(slug: string, commit: string | undefined, ticked: readonly string[]) {
  return useQuery({
    queryKey: keys.clearing(slug, commit, ticked),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/findings/clearing', {
          params: { path: { slug }, query: { ticked: [...ticked] } },
          signal,
        }),
      ),
    enabled: commit !== undefined,
  });
}
