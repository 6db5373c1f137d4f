import { useRef, type ReactNode } from 'react';
import type { Draft, DraftEdit } from '../api/client';
import { isTyping } from '../frame/is-typing';
import { useWindowKey } from '../frame/useWindowKey';
import { ErrorNotice } from '../parts/ErrorNotice';
import { isNothingToStep, useReviseDraft, type Entry } from './useDraft';
import { EditorButton, EditorStep } from '../session/EditorButton';

/** The edits in words: each can be taken out, put back and moved; each step can be undone. */
export function DraftEdits({ slug, draft }: { readonly slug: string; readonly draft: Draft }) {
  const revise = useReviseDraft(slug, draft);
  const { edits } = draft;
  const set = (entries: readonly Entry[]): void => revise.mutate({ entries });
  const toggle = (index: number): void =>
    set(edits.map((entry, i) => (i === index ? { ...entry, isOut: !entry.isOut } : entry)));
  const list = useRef<HTMLOListElement>(null);
  const drop = (index: number): void => {
    // The button goes with its edit.
    list.current?.focus();
    set(edits.filter((_, i) => i !== index));
  };
  const move = (index: number, by: -1 | 1): void => {
    const next = [...edits];
    const [one] = next.splice(index, 1);
    next.splice(index + by, 0, one!);
    set(next);
  };
  useWindowKey((event) => {
    if (event.key.toLowerCase() !== 'z' || !(event.ctrlKey || event.metaKey)) return;
    if (isTyping(event.target)) return;
    // While a change is under way it is not known what can be undone after it; the server says.
    if (!revise.isPending && !(event.shiftKey ? draft.canRedo : draft.canUndo)) return;
    event.preventDefault();
    revise.mutate(event.shiftKey ? 'redo' : 'undo');
  });
  return (
    <div>
      {revise.isError && !isNothingToStep(revise.error) && <ErrorNotice error={revise.error} />}
      {edits.length === 0 && (
        <p className="text-sm text-ink-2">
          No edits yet. Pencil a version in from a package panel.
        </p>
      )}
      <ol ref={list} tabIndex={-1} aria-label="Edits" className="max-h-[44vh] overflow-auto">
        {withKeys(edits).map(([key, entry], i) => (
          <EditLine key={key} entry={entry}>
            <EditorStep
              disabled={revise.isPending}
              label={`${entry.isOut ? 'Put back' : 'Take out'}: ${nameOf(entry)}`}
              onClick={() => toggle(i)}
            >
              {entry.isOut ? 'put back' : 'take out'}
            </EditorStep>
            {edits.length > 1 && (
              <>
                <EditorStep
                  disabled={revise.isPending || i === 0}
                  label={`Move up: ${nameOf(entry)}`}
                  onClick={() => move(i, -1)}
                >
                  up
                </EditorStep>
                <EditorStep
                  disabled={revise.isPending || i === edits.length - 1}
                  label={`Move down: ${nameOf(entry)}`}
                  onClick={() => move(i, 1)}
                >
                  down
                </EditorStep>
              </>
            )}
            {entry.isOut && (
              <EditorStep
                disabled={revise.isPending}
                label={`Forget: ${nameOf(entry)}`}
                onClick={() => drop(i)}
              >
                forget
              </EditorStep>
            )}
          </EditLine>
        ))}
      </ol>
      <p className="mt-1 flex gap-3 text-sm">
        {(draft.canUndo || draft.canRedo) && (
          <>
            <EditorButton
              look="text"
              className="text-sm"
              disabled={revise.isPending || !draft.canUndo}
              onClick={() => revise.mutate('undo')}
            >
              Undo
            </EditorButton>
            <EditorButton
              look="text"
              className="text-sm"
              disabled={revise.isPending || !draft.canRedo}
              onClick={() => revise.mutate('redo')}
            >
              Do again
            </EditorButton>
          </>
        )}
      </p>
    </div>
  );
}

/** Each edit by what it says, so that a line stays itself, and keeps the focus, where it is moved. */
function withKeys(edits: readonly DraftEdit[]): readonly (readonly [key: string, DraftEdit])[] {
  const seen = new Map<string, number>();
  return edits.map((entry) => {
    const said = JSON.stringify(entry.edit);
    const nth = seen.get(said) ?? 0;
    seen.set(said, nth + 1);
    return [`${nth} ${said}`, entry];
  });
}

function nameOf({ words: { subject, verb } }: DraftEdit): string {
  return `${subject} ${verb}`;
}

function EditLine({
  entry: { words, problem, leftOut, isOut, endsAnswer },
  children,
}: {
  readonly entry: DraftEdit;
  readonly children: ReactNode;
}) {
  return (
    <li className="border-b border-rule-strong py-1.5 text-pencil">
      <div className={isOut ? 'line-through decoration-ink-3' : ''}>
        <p>
          <b className="font-semibold text-ink">{words.subject}</b> {words.verb}{' '}
          {(words.to !== null || words.from !== null) && (
            <code className="pencilled font-mono text-sm">
              {[words.from, words.to].filter((one) => one !== null).join(' → ')}
            </code>
          )}
        </p>
        {words.detail !== null && (
          <p className="line-clamp-3 text-sm" title={words.detail}>
            {words.detail}
          </p>
        )}
      </div>
      {endsAnswer && <p className="text-sm text-off">From here on there is no answer.</p>}
      {leftOut !== null && <p className="text-sm text-caution">{leftOut}</p>}
      {problem !== null && <p className="text-sm text-off">{problem}</p>}
      <p className="flex gap-2.5 text-xs">{children}</p>
    </li>
  );
}
