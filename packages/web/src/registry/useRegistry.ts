import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';

/** What all registries find by words; what was found before stays visible while it is looked for. */
export function useSearch(slug: string, commit: string | undefined, query: string) {
  return useQuery({
    queryKey: keys.registrySearch(slug, commit, query),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/registry', {
          params: { path: { slug }, query: { query } },
          signal,
        }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** What registries have done lately with what is in use. */
export function useNews(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.registryNews(slug, commit),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/registry/news', { params: { path: { slug } }, signal }),
      ),
    enabled: commit !== undefined,
  });
}

/** What a release says of itself. */
export function useNotes(slug: string, name: string, version: string) {
  return useQuery({
    queryKey: keys.releaseNotes(slug, name, version),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/registry/packages/{name}/notes/{version}', {
          params: { path: { slug, name, version } },
          signal,
        }),
      ),
    enabled: version !== '',
  });
}

/** A package as its registry has it. */
export function useRegistryPackage(slug: string, commit: string | undefined, name: string | null) {
  return useQuery({
    queryKey: keys.registryPackage(slug, commit, name ?? ''),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/registry/packages/{name}', {
          params: { path: { slug, name: name! } },
          signal,
        }),
      ),
    enabled: commit !== undefined && name !== null,
  });
}
