import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { answer, api, setCsrf, type Account, type Session } from '../api/client';
import { keys } from '../api/keys';
import { putAnswer } from '../api/put-answer';

/** Who is signed in at this browser. */
export function useSession() {
  return useQuery<Session>({
    queryKey: keys.session(),
    queryFn: async ({ signal }) => {
      const session = await answer(api.GET('/api/session', { signal }));
      setCsrf(session.csrf);
      return session;
    },
    staleTime: 60_000,
  });
}

/** The account that is signed in, as far as it is known. */
export function useAccount(): Account | null {
  return useSession().data?.account ?? null;
}

const RANK: Readonly<Record<Account['role'], number>> = { reader: 0, editor: 1, keeper: 2 };

/** May whoever is signed in do what takes this role? The server decides; this decides what is offered. */
export function useIs(role: Account['role']): boolean {
  const account = useAccount();
  return account !== null && RANK[account.role] >= RANK[role];
}

/** Is it known that whoever is signed in may not do what takes this role? */
export function useMayNot(role: Account['role']): boolean {
  const account = useAccount();
  return account !== null && RANK[account.role] < RANK[role];
}

/** Takes a session that has just begun. */
export function useTakeSession(): (session: Session) => void {
  const queries = useQueryClient();
  return (session) => {
    setCsrf(session.csrf);
    putAnswer(queries, keys.session(), session);
    queries.removeQueries({ predicate: ({ queryKey }) => queryKey[0] !== keys.session()[0] });
  };
}

export function useSignOut() {
  const take = useTakeSession();
  return useMutation({
    mutationFn: () => answer(api.DELETE('/api/session')),
    onSuccess: () => take({ account: null, csrf: null, isEmpty: false }),
  });
}
