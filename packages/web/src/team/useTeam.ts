import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, type AccessToken, type Account } from '../api/client';
import { keys } from '../api/keys';
import { putAnswer } from '../api/put-answer';

export function useAccounts() {
  return useQuery({
    queryKey: keys.accounts(),
    queryFn: ({ signal }) => answer(api.GET('/api/accounts', { signal })),
  });
}

export function useTokens(slug: string, isKeeper: boolean) {
  return useQuery({
    queryKey: keys.tokens(slug),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/tokens', { params: { path: { slug } }, signal })),
    enabled: isKeeper,
  });
}

/** Who did what in a workspace, page by page. */
export function useAudit(slug: string, isKeeper: boolean) {
  return useInfiniteQuery({
    queryKey: keys.audit(slug),
    queryFn: ({ signal, pageParam }) =>
      answer(
        api.GET('/api/audit', {
          params: {
            query:
              pageParam === null ? { workspace: slug } : { workspace: slug, before: pageParam },
          },
          signal,
        }),
      ),
    initialPageParam: null as string | null,
    getNextPageParam: ({ entries, hasMore }) => (hasMore ? (entries.at(-1)?.id ?? null) : null),
    enabled: isKeeper,
  });
}

export function useChangeAccount() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: ({ id, ...body }: { id: string; role?: Account['role']; isActive?: boolean }) =>
      answer(api.PATCH('/api/accounts/{account}', { params: { path: { account: id } }, body })),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.accounts() }),
  });
}

export function useLink() {
  return useMutation({
    mutationFn: (id: string) =>
      answer(api.POST('/api/accounts/{account}/link', { params: { path: { account: id } } })),
  });
}

export type NewPerson = Pick<Account, 'name' | 'shownName' | 'email' | 'role'>;

export function useInvite() {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: NewPerson) => answer(api.POST('/api/accounts', { body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.accounts() }),
  });
}

export type NewToken = Pick<AccessToken, 'name' | 'scopes' | 'lastDay'>;

export function useMakeToken(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (body: NewToken) =>
      answer(api.POST('/api/workspaces/{slug}/tokens', { params: { path: { slug } }, body })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.tokens(slug) }),
  });
}

export function useRevokeToken(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (token: string) =>
      answer(
        api.DELETE('/api/workspaces/{slug}/tokens/{token}', { params: { path: { slug, token } } }),
      ),
    onSettled: () => queries.invalidateQueries({ queryKey: keys.tokens(slug) }),
  });
}

export function useSetApproval(slug: string) {
  const queries = useQueryClient();
  return useMutation({
    mutationFn: (needsApproval: boolean) =>
      answer(
        api.PUT('/api/workspaces/{slug}/settings', {
          params: { path: { slug } },
          body: { needsApproval },
        }),
      ),
    onSuccess: (state) => putAnswer(queries, keys.workspace(slug), state),
  });
}
