import { useEffect } from 'react';

/**
 * Names a page on the browser's tab, and with it in history and bookmarks.
 * @param what the page, then what it is part of; what is not known yet is left out, and with nothing it is the first page
 */
export function usePageTitle(...what: readonly (string | undefined)[]): void {
  const title = [...what.filter((one) => one !== undefined), 'Deep Ledger'].join(' · ');
  useEffect(() => {
    document.title = title;
  }, [title]);
}
