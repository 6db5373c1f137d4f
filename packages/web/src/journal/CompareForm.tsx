import { useState, type FormEvent } from 'react';
import { Button } from '../parts/Button';
import { ComparisonView } from './ComparisonView';

interface Props {
  readonly from: string | null;
  readonly to: string | null;
  readonly branch: string;
  readonly onCompare: (from: string | null, to: string | null) => void;
}

const FIELD =
  'h-[30px] w-[130px] rounded-sm border border-rule-strong bg-leaf px-2 font-mono text-sm';

/** Any two commits or branches beside each other. */
export function CompareForm({ from, to, branch, onCompare }: Props) {
  const [texts, setTexts] = useState({ from: from ?? '', to: to ?? branch });
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    onCompare(texts.from.trim() || null, texts.to.trim() || branch);
  };
  return (
    <>
      <form onSubmit={submit} className="flex flex-wrap items-center gap-2">
        <span className="text-ink-2">Compare</span>
        <input
          aria-label="From commit or branch"
          placeholder="its parent"
          value={texts.from}
          onChange={(event) => setTexts({ ...texts, from: event.target.value })}
          className={FIELD}
        />
        <span className="text-ink-2">with</span>
        <input
          aria-label="To commit or branch"
          placeholder={branch}
          value={texts.to}
          onChange={(event) => setTexts({ ...texts, to: event.target.value })}
          className={FIELD}
        />
        <Button type="submit" look="quiet">
          Compare
        </Button>
        {to !== null && (
          <Button look="text" onClick={() => onCompare(null, null)}>
            Close
          </Button>
        )}
      </form>
      {to !== null && (
        <div className="rule-double-top w-full bg-leaf px-2 py-2">
          <p className="pb-1 font-serif text-base text-ink-2 italic">
            {from ?? `the parent of ${to}`} → {to}
          </p>
          <ComparisonView from={from} to={to} />
        </div>
      )}
    </>
  );
}
