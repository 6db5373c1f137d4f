import { useState } from 'react';
import { useLocation } from 'react-router';
import { Button } from '../parts/Button';
import { lineOfPage } from './page-lines';

const SEEN = 'deep-ledger pages seen';

/** A line on what can be done on a page, until it is put away; the list of keys has it too. */
export function FirstVisit() {
  const { pathname } = useLocation();
  const page = pathname.split('/')[3] ?? '';
  const line = lineOfPage(pathname);
  const [seen, setSeen] = useState(readSeen);
  if (line === null || seen.includes(page)) return null;
  const putAway = (): void => {
    const next = [...readSeen(), page];
    localStorage.setItem(SEEN, JSON.stringify(next));
    setSeen(next);
  };
  return (
    <p className="mb-3 border-l-[3px] border-agreed bg-leaf px-3 py-1.5 text-sm text-ink-2">
      {line}{' '}
      <Button look="text" onClick={putAway}>
        Put away
      </Button>
    </p>
  );
}

function readSeen(): readonly string[] {
  try {
    const kept: unknown = JSON.parse(localStorage.getItem(SEEN) ?? '[]');
    return Array.isArray(kept) ? kept.filter((one) => typeof one === 'string') : [];
  } catch {
    return [];
  }
}
