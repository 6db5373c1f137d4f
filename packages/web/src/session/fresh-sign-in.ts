/** Goes along with the address after signing in: the first page then is that of the one workspace, where there is one. */
export const FRESH = { isFresh: true } as const;

export function isFreshSignIn(state: unknown): boolean {
  return typeof state === 'object' && state !== null && 'isFresh' in state;
}
