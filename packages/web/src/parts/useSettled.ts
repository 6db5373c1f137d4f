import { useEffect, useState } from 'react';

/** A value once it has stayed the same for a moment, so that not every key that is pressed asks something. */
export function useSettled<T>(value: T, ms = 200): T {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const timer = setTimeout(() => setSettled(value), ms);
    return () => clearTimeout(timer);
  }, [value, ms]);
  return settled;
}
