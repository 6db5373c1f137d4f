import { useLocation, useNavigate, type Location } from 'react-router';

type Values = Readonly<Record<string, string | null>>;

/** What was written while a page still stood at a location: the next change adds to it, though nothing was drawn yet. */
const written = new WeakMap<Location, URLSearchParams>();

/**
 * Writes what is looked at into the address, in place; what is null or empty is left out of it. Changes may follow each
 * other faster than the page is drawn: none is lost.
 */
export function useChangeAddress(): (values: Values) => void {
  const location = useLocation();
  const navigate = useNavigate();
  return (values) => {
    const next = new URLSearchParams(written.get(location) ?? location.search);
    for (const [key, value] of Object.entries(values)) {
      if (value === null || value === '') next.delete(key);
      else next.set(key, value);
    }
    written.set(location, next);
    // It is the same page still, and stays where it is.
    void navigate({ search: next.toString() }, { replace: true, preventScrollReset: true });
  };
}
