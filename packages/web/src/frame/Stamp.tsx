import { useState } from 'react';
import type { WorkspaceState } from '../api/client';
import { Dialog } from '../parts/Dialog';
import { ProblemList } from '../parts/ProblemList';
import { count, sumDigits } from '../parts/words';

const INK = {
  consistent: 'border-agreed text-agreed',
  stale: 'border-caution text-caution',
  broken: 'border-off text-off',
} as const;
const ABOUT = {
  consistent: 'It answers the manifests exactly.',
  stale:
    'The manifests have moved on. Each line says what they ask for and what the lockfile holds.',
  broken: 'It cannot be read, so nothing is known of the copies. The next post replaces it.',
} as const;

/** The lockfile's state; opens the list of what stands against it. */
export function Stamp({ lock }: { readonly lock: WorkspaceState['lock'] }) {
  const [isOpen, setOpen] = useState(false);
  const word = (
    <span
      className={`inline-block rounded-sm border-[1.5px] px-1.5 font-mono text-sm font-semibold ${INK[lock.state]}`}
    >
      lockfile {lock.state}
    </span>
  );
  return (
    <div className="text-right font-mono text-sm text-ink-2 max-fold:text-left">
      {lock.reasons.length === 0 ? (
        word
      ) : (
        <button
          type="button"
          onClick={() => setOpen(true)}
          aria-label={`lockfile ${lock.state}: ${count(lock.reasons.length, 'reason')}`}
        >
          {word} <span className="underline">{count(lock.reasons.length, 'reason')}</span>
        </button>
      )}
      <p className="mt-1">
        {lock.sum !== null && `sum ${sumDigits(lock.sum)} · `}
        {lock.copies === null ? 'no copies known' : count(lock.copies, 'copy', 'copies')}
      </p>
      <Dialog
        open={isOpen}
        onClose={() => setOpen(false)}
        title={`The lockfile is ${lock.state}`}
        about={ABOUT[lock.state]}
      >
        <ProblemList problems={lock.reasons} />
      </Dialog>
    </div>
  );
}
