import { keepPreviousData, queryOptions, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';
import type { Scope } from './alignment-view';

/**
 * Alignment at a commit; the one before stays visible while the next is read.
 * @param needsCells of a large workspace they are most of the answer
 */
export function useAlignment(
  slug: string,
  commit: string | undefined,
  scope: Scope,
  needsCells: boolean,
) {
  const query = { scope, cells: needsCells ? 'true' : 'false' } as const;
  return useQuery({
    queryKey: keys.alignment(slug, commit, query),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/alignment', {
          params: { path: { slug }, query },
          signal,
        }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** One package in its panel: all that is asked of it. */
export function usePackagePanel(slug: string, name: string, commit: string | undefined) {
  return useQuery({
    ...packagePanelQuery(slug, name, commit),
    placeholderData: keepPreviousData,
  });
}

export function packagePanelQuery(slug: string, name: string, commit: string | undefined) {
  return queryOptions({
    queryKey: keys.panel(slug, name, commit),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/packages/{name}', {
          params: { path: { slug, name } },
          signal,
        }),
      ),
  });
}
