import type { QueryClient, QueryKey } from '@tanstack/react-query';

/**
 * Puts what a change was answered with in place of what is known. An answer that is on its way was asked for before the
 * change, and would bring the earlier state back: it is not taken any more.
 */
export function putAnswer(queries: QueryClient, queryKey: QueryKey, found: object): void {
  queries.setQueryData(queryKey, found);
  void queries.cancelQueries({ queryKey, exact: true });
}
