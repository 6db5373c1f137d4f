import { useMedia } from './useMedia';

/** The width below which the index folds; the style sheet's `fold`. */
const NARROW = '(max-width: 899.98px)';

/** Is the page so narrow that the index folds and tables leave out columns? */
export function useIsFolded(): boolean {
  return useMedia(NARROW);
}
