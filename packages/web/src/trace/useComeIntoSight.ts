import { useEffect, useRef } from 'react';

/** Brings an element into sight whenever something is added to what it tells of. */
export function useComeIntoSight(count: number): React.RefObject<HTMLDivElement | null> {
  const element = useRef<HTMLDivElement>(null);
  const before = useRef(count);
  useEffect(() => {
    if (count > before.current) element.current?.scrollIntoView({ block: 'nearest' });
    before.current = count;
  }, [count]);
  return element;
}
