import { keepPreviousData, queryOptions, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';

/** Alignment at a commit; the one before stays visible while the next is read. */
export function useAlignment(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.alignment(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/alignment', { params: { path: { slug } }, signal })),
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
