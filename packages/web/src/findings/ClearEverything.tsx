import { useState } from 'react';
import { useOutletContext } from 'react-router';
import { usePencil } from '../draft/usePencil';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../parts/words';
import { useClearing } from './useFindings';
import { EditorButton } from '../session/EditorButton';

interface Props {
  /** Names of the findings that there are now. */
  readonly known: ReadonlySet<string>;
  readonly onFold: () => void;
}

/** The one draft that clears all that can be cleared, and what is left with the reasons. */
export function ClearEverything({ known, onFold }: Props) {
  const { slug, state, takeDraft } = useOutletContext<FrameContext>();
  const [ticked, setTicked] = useState<readonly string[]>([]);
  const [wanted, setWanted] = useState<readonly string[]>([]);
  const clearing = useClearing(slug, state?.head.commit, ticked);
  // It begins a draft of its own: what is in hand may say something else.
  const pencil = usePencil({ slug, draftId: null, takeDraft });
  const fold = (
    <Button look="text" className="text-sm" onClick={onFold}>
      Fold away
    </Button>
  );
  if (clearing.isError)
    return <ErrorNotice error={clearing.error} onRetry={() => void clearing.refetch()} />;
  if (clearing.data === undefined) {
    return (
      <section
        aria-label="Clear everything"
        className="mb-4 border-l-[3px] border-agreed bg-leaf p-3"
      >
        <p role="status">
          Trying out remedies together and apart; each try resolves the workspace. {fold}
        </p>
      </section>
    );
  }
  const { name, edits, cleared, left } = clearing.data;
  const perhaps = left.filter(({ isPerhaps }) => isPerhaps);
  const others = left.filter(({ isPerhaps }) => !isPerhaps);
  const fresh = left.filter(({ finding }) => !known.has(finding)).length;
  return (
    <section
      aria-label="Clear everything"
      className="mb-4 border-l-[3px] border-agreed bg-leaf p-3"
    >
      <h2 className="font-serif text-lg font-semibold">
        {edits.length === 0
          ? 'Nothing more can be cleared'
          : `${count(edits.length, 'edit')} clear ${count(cleared.length, 'finding')}`}
      </h2>
      <p className="pb-2 text-ink-2">
        {edits.length === 0
          ? 'Every finding that is left needs a major step, a decision, or somebody else’s release.'
          : `No project takes a major step, and nothing is decided for the team. ${count(left.length, 'finding')} ${left.length === 1 ? 'is' : 'are'} left${fresh === 0 ? '' : `, ${fresh} of them new`}.`}{' '}
        {fold}
      </p>
      {pencil.isError && <ErrorNotice error={pencil.error} />}
      {edits.length > 0 && (
        <EditorButton
          disabled={pencil.isPending || pencil.isSuccess}
          onClick={() => pencil.mutate({ kind: 'edits', edits, draftName: name })}
        >
          {pencil.isSuccess ? 'Pencilled in' : 'Pencil it in'}
        </EditorButton>
      )}
      {perhaps.length > 0 && (
        <fieldset className="pt-2">
          <legend className="font-semibold">Perhaps unused; only what you tick is removed</legend>
          <ul className="max-h-[240px] overflow-auto">
            {perhaps.map(({ finding, says }) => (
              <li key={finding} className="border-b border-rule py-1">
                <label className="flex gap-2">
                  <input
                    type="checkbox"
                    checked={wanted.includes(finding)}
                    onChange={({ target }) =>
                      setWanted((now) =>
                        target.checked ? [...now, finding] : now.filter((one) => one !== finding),
                      )
                    }
                  />
                  {says}
                </label>
              </li>
            ))}
          </ul>
          <Button
            look="quiet"
            disabled={wanted.length === 0}
            onClick={() => {
              setTicked((now) => [...now, ...wanted]);
              setWanted([]);
            }}
          >
            Include {count(wanted.length, 'ticked finding')}
          </Button>
        </fieldset>
      )}
      {others.length > 0 && (
        <details className="pt-2" open={edits.length === 0}>
          <summary className="font-semibold">What is left, and why</summary>
          <ul className="max-h-[320px] overflow-auto">
            {others.map(({ finding, says, why }) => (
              <li key={finding} className="border-b border-rule py-1">
                {says}
                <span className="block text-sm text-ink-2">{why}</span>
              </li>
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
