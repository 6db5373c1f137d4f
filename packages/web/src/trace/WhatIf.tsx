import type { Edit, WhatIfAnswer } from '../api/client';
import { Change } from '../draft/DraftConsequences';
import { Button } from '../parts/Button';
import { Notice } from '../parts/Notice';
import { bytes } from '../parts/words';
import { triedWords } from './tried-words';
import { EditorButton } from '../session/EditorButton';

interface Props {
  readonly tried: readonly Edit[];
  readonly answer: WhatIfAnswer | undefined;
  readonly isPencilling: boolean;
  readonly onTakeBack: (index: number) => void;
  readonly onPencil: () => void;
  readonly onTry: (edits: readonly Edit[]) => void;
}

/** What is tried out, in pencil, with what would come of it. It stays until it is taken back. */
export function WhatIf({ tried, answer, isPencilling, onTakeBack, onPencil, onTry }: Props) {
  return (
    <section
      aria-label="What if"
      className="border-l-[3px] border-dashed border-pencil bg-leaf p-3"
    >
      <h2 className="font-serif text-lg font-semibold">What if</h2>
      <ul className="text-pencil italic">
        {tried.map((edit, i) => (
          <li key={JSON.stringify(edit)} className="flex items-baseline gap-3">
            <span>{triedWords(edit)}</span>
            {answer?.problems?.[i] != null && (
              <span className="text-off not-italic">{answer.problems[i]}</span>
            )}
            <Button look="text" className="text-sm not-italic" onClick={() => onTakeBack(i)}>
              Take back
            </Button>
          </li>
        ))}
      </ul>
      {answer === undefined ? (
        <p role="status" className="text-sm text-ink-2">
          Resolving with it.
        </p>
      ) : (
        <Outcome answer={answer} onTry={onTry} />
      )}
      <div className="pt-2">
        <EditorButton disabled={isPencilling || answer === undefined} onClick={onPencil} title="P">
          {isPencilling ? 'Pencilling' : 'Pencil it in'}
        </EditorButton>
      </div>
    </section>
  );
}

function Outcome({ answer, onTry }: Pick<Props, 'onTry'> & { readonly answer: WhatIfAnswer }) {
  const { evaluation, suggestedFixes, bytes: size } = answer;
  const { consequences } = evaluation;
  if (consequences === null) {
    return (
      <div className="pt-2">
        <Notice kind="trouble" title={TITLES[evaluation.kind]}>
          {evaluation.explanations.map((sentences, i) => (
            <ul key={i}>
              {sentences.map((sentence) => (
                <li key={sentence}>{sentence}</li>
              ))}
            </ul>
          ))}
          {evaluation.problems.map(({ message, place }) => (
            <p key={message}>
              {place.file}:{place.line}: {message}
            </p>
          ))}
        </Notice>
        <ul aria-label="Suggested fixes" className="pt-1 text-sm">
          {suggestedFixes
            .flatMap(({ ways }) => ways)
            .map(({ sentence, edits }) => (
              <li key={sentence}>
                {sentence}{' '}
                {edits.length > 0 && (
                  <Button look="text" className="text-sm" onClick={() => onTry(edits)}>
                    Try this as well
                  </Button>
                )}
              </li>
            ))}
        </ul>
      </div>
    );
  }
  const { copiesBefore, copiesAfter, manifests, findings, peersBroken } = consequences;
  return (
    <div className="grid grid-cols-2 gap-x-6 pt-2 max-fold:grid-cols-1">
      <dl className="grid grid-cols-[1fr_auto] content-start gap-y-0.5">
        <dt className="text-ink-2">Copies in the lockfile</dt>
        <dd className="font-mono text-sm">
          {copiesBefore ?? '?'} → {copiesAfter}
        </dd>
        <dt className="text-ink-2">Size of what is installed</dt>
        <dd className="font-mono text-sm">
          {size === 0 ? 'the same' : `${size < 0 ? '−' : '+'}${bytes(Math.abs(size))}`}
        </dd>
        <dt className="text-ink-2">Manifests touched</dt>
        <dd className="font-mono text-sm">{manifests}</dd>
        <dt className="text-ink-2">Findings cleared</dt>
        <dd className="font-mono text-sm">{findings.cleared.length}</dd>
        <dt className="text-ink-2">Findings raised</dt>
        <dd className={`font-mono text-sm ${findings.raised.length > 0 ? 'text-off' : ''}`}>
          {findings.raised.length === 0 ? '–' : `(${findings.raised.length})`}
        </dd>
      </dl>
      <div>
        <Change change={consequences.change} />
        {findings.raised.slice(0, 5).map(({ id, says }) => (
          <p key={id} className="text-sm text-off">
            {says}
          </p>
        ))}
        {peersBroken.map(({ copy, name, range }) => (
          <p key={`${copy} ${name}`} className="text-sm text-off">
            {copy} would miss {name} {range}
          </p>
        ))}
      </div>
    </div>
  );
}

const TITLES = {
  answered: '',
  unanswered: 'No answer: it stays here until you take it back, or take a suggested fix',
  unreadable: 'The files could not be read with it',
  inapplicable: 'It cannot be done',
} as const;
