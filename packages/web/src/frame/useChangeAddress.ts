import { useSearchParams } from 'react-router';

/** Writes what is looked at into the address, in place; what is null or empty is left out of it. */
export function useChangeAddress(): (values: Readonly<Record<string, string | null>>) => void {
  const [, setParams] = useSearchParams();
  return (values) =>
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        for (const [key, value] of Object.entries(values)) {
          if (value === null || value === '') next.delete(key);
          else next.set(key, value);
        }
        return next;
      },
      { replace: true },
    );
}
