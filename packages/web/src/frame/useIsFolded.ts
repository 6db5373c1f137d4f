import { useSyncExternalStore } from 'react';

/** The width below which the index folds; the style sheet's `fold`. */
const NARROW = '(max-width: 899.98px)';

/** Is the page so narrow that the index folds and tables leave out columns? */
export function useIsFolded(): boolean {
  return useSyncExternalStore(
    (changed) => {
      const query = matchMedia(NARROW);
      query.addEventListener('change', changed);
      return () => query.removeEventListener('change', changed);
    },
    () => matchMedia(NARROW).matches,
  );
}
