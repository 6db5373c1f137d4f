import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import { Navigate, Outlet, ScrollRestoration, useLocation } from 'react-router';
import { ApiError } from '../api/client';
import { keys } from '../api/keys';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useSession } from './useSession';

/** Pages for those who are signed in; others are asked to, and come back to where they wanted to go. */
export function SessionGate() {
  const session = useSession();
  const { pathname, search, hash } = useLocation();
  const queries = useQueryClient();
  useEffect(
    () =>
      queries.getQueryCache().subscribe(({ type, query }) => {
        const { error } = query.state;
        if (type !== 'updated' || !(error instanceof ApiError)) return;
        if (error.code === 'NOT_SIGNED_IN')
          void queries.invalidateQueries({ queryKey: keys.session() });
      }),
    [queries],
  );
  if (session.isError)
    return (
      <div className="p-6">
        <ErrorNotice error={session.error} onRetry={() => void session.refetch()} />
      </div>
    );
  if (session.data === undefined) return null;
  if (session.data.account !== null)
    return (
      <>
        <Outlet />
        {/* After the pages: a long table first stays where the page before it stood. */}
        <ScrollRestoration storageKey="deep-ledger scroll" />
      </>
    );
  const then = `${pathname}${search}${hash}`;
  return <Navigate to={`/sign-in?${new URLSearchParams({ then }).toString()}`} replace />;
}
