import { useState } from 'react';
import type { Draft, DraftEdit } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useSetEdits } from './useDraft';

/** The edits in words; each can be taken out, and put back. */
export function DraftEdits({ slug, draft }: { readonly slug: string; readonly draft: Draft }) {
  const set = useSetEdits(slug, draft.id);
  const [before, setBefore] = useState<readonly DraftEdit[] | null>(null);
  const takeOut = (index: number): void => {
    setBefore(draft.edits);
    set.mutate(draft.edits.filter((_, i) => i !== index).map(({ edit }) => edit));
  };
  const putBack = (): void => {
    if (before === null) return;
    set.mutate(before.map(({ edit }) => edit));
    setBefore(null);
  };
  return (
    <div>
      {set.isError && <ErrorNotice error={set.error} />}
      {draft.edits.length === 0 && (
        <p className="text-sm text-ink-2">No edits yet. Pencil a version in at a bench.</p>
      )}
      <ol aria-label="Edits">
        {draft.edits.map(({ words, problem }, i) => (
          <li key={i} className="group border-b border-rule-strong py-1.5 text-pencil">
            <div className="flex items-baseline justify-between gap-2">
              <p>
                <b className="font-semibold text-ink">{words.subject}</b> {words.verb}{' '}
                {words.to !== null && (
                  <code className="pencilled font-mono text-sm whitespace-nowrap">
                    {words.from !== null && `${words.from} → `}
                    {words.to}
                  </code>
                )}
              </p>
              <Button
                look="text"
                className="text-sm"
                disabled={set.isPending}
                onClick={() => takeOut(i)}
                aria-label={`Take out: ${words.subject} ${words.verb}`}
              >
                take out
              </Button>
            </div>
            {words.detail !== null && <p className="text-sm">{words.detail}</p>}
            {problem !== null && <p className="text-sm text-off">{problem}</p>}
          </li>
        ))}
      </ol>
      {before !== null && (
        <Button look="text" className="mt-1 text-sm" disabled={set.isPending} onClick={putBack}>
          put back what was taken out
        </Button>
      )}
    </div>
  );
}
