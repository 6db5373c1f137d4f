import { useEffect, useEffectEvent } from 'react';

/** Hears every key that is pressed on the page, while the part is there. */
export function useWindowKey(onKey: (event: KeyboardEvent) => void): void {
  const heard = useEffectEvent(onKey);
  useEffect(() => {
    const listen = (event: KeyboardEvent): void => heard(event);
    window.addEventListener('keydown', listen);
    return () => window.removeEventListener('keydown', listen);
  }, []);
}
