import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { answer, api, type MachineLine } from '../api/client';

/** Who stands on which lockfile; what was known before stays visible while it is asked for again. */
export function useMachines(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: ['machines', slug, commit],
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/machines', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Machines and build runs that stand on another lockfile than the branch's head. */
export function machinesBehind(lines: readonly MachineLine[]): number {
  return lines.filter(
    ({ kind, lock, installed }) =>
      kind !== 'branch' && [lock, installed].some((one) => one !== null && one.state !== 'here'),
  ).length;
}
