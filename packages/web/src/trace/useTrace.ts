import { keepPreviousData, useInfiniteQuery, useQuery } from '@tanstack/react-query';
import { answer, api, type Edit, type NamedLink } from '../api/client';
import { keys } from '../api/keys';
import type { TraceView } from './trace-address';

const CHAINS_AT_ONCE = 50;

function subjectOf({
  package: name,
  version,
  project,
  direction,
  target,
  from,
  through,
  kinds,
}: TraceView) {
  return {
    ...(name === undefined ? {} : { package: name }),
    ...(version === undefined ? {} : { version }),
    ...(project === undefined ? {} : { project }),
    ...(direction === undefined ? {} : { direction }),
    ...(target === undefined ? {} : { target }),
    ...(from === undefined ? {} : { from }),
    ...(through === undefined ? {} : { through }),
    ...(kinds === undefined ? {} : { kinds: kinds.join(',') }),
  };
}

/** The drawing of a trace; the one before stays visible while the next is read. */
export function useTrace(slug: string, commit: string | undefined, view: TraceView) {
  const query = {
    ...subjectOf(view),
    ...(view.open === undefined ? {} : { open: view.open.join(',') }),
  };
  return useQuery({
    queryKey: keys.trace(slug, commit, query),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/trace', { params: { path: { slug }, query }, signal }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Its chains one by one. */
export function useChains(slug: string, commit: string | undefined, view: TraceView) {
  const query = {
    ...subjectOf(view),
    ...(view.steps === undefined ? {} : { steps: view.steps }),
    count: CHAINS_AT_ONCE,
  };
  return useInfiniteQuery({
    queryKey: keys.chains(slug, commit, query),
    queryFn: ({ signal, pageParam }) =>
      answer(
        api.GET('/api/workspaces/{slug}/trace/chains', {
          params: { path: { slug }, query: { ...query, skip: pageParam } },
          signal,
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (last.hasMore ? pages.length * CHAINS_AT_ONCE : undefined),
    enabled: commit !== undefined && (view.package ?? view.project) !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** What leaves with a project's requirements or with a copy. */
export function useLeaving(slug: string, commit: string | undefined, node: string | undefined) {
  return useQuery({
    queryKey: keys.leaving(slug, commit, node),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/trace/leaving', {
          params: { path: { slug }, query: { node: node ?? '' } },
          signal,
        }),
      ),
    enabled: commit !== undefined && node !== undefined,
  });
}

export function useSeveral(slug: string, commit: string | undefined, name: string | undefined) {
  return useQuery({
    queryKey: keys.several(slug, commit, name),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/trace/copies/{name}', {
          params: { path: { slug, name: name ?? '' } },
          signal,
        }),
      ),
    enabled: commit !== undefined && name !== undefined,
  });
}

/** What would leave if links were not there. */
export function useWithout(slug: string, commit: string | undefined, links: readonly NamedLink[]) {
  return useQuery({
    queryKey: keys.without(slug, commit, links),
    queryFn: ({ signal }) =>
      answer(
        api.POST('/api/workspaces/{slug}/trace/without', {
          params: { path: { slug } },
          body: { links: [...links] },
          signal,
        }),
      ),
    enabled: commit !== undefined && links.length > 0,
    placeholderData: keepPreviousData,
  });
}

/** The effect of edits. They are tried out and kept nowhere but in the address. */
export function useWhatIf(slug: string, commit: string | undefined, edits: readonly Edit[]) {
  return useQuery({
    queryKey: keys.whatIf(slug, commit, edits),
    queryFn: ({ signal }) =>
      answer(
        api.POST('/api/workspaces/{slug}/what-if', {
          params: { path: { slug } },
          body: { edits: [...edits], suggestedFixes: true },
          signal,
        }),
      ),
    enabled: commit !== undefined && edits.length > 0,
    placeholderData: keepPreviousData,
  });
}
