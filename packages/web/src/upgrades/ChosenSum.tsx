import type { Offer } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../parts/words';
import { EditorButton } from '../session/EditorButton';
import { priceWords } from './upgrade-view';
import { useSum } from './useUpgrades';

interface Props {
  readonly slug: string;
  readonly commit: string | undefined;
  readonly offers: readonly Offer[];
  readonly isPencilling: boolean;
  readonly onPencil: () => void;
  readonly onClear: () => void;
}

const KINDS = ['patch', 'minor', 'major'] as const;
const PLURALS = { patch: 'patches', minor: 'minors', major: 'majors' } as const;

/** What is chosen, tried as one: the sum, and what stands against it. */
export function ChosenSum({ slug, commit, offers, isPencilling, onPencil, onClear }: Props) {
  const { data, isError, error, isPlaceholderData } = useSum(slug, commit, offers);
  const kinds = KINDS.flatMap((kind) => {
    const n = offers.filter((one) => one.kind === kind).length;
    return n === 0 ? [] : [count(n, kind, PLURALS[kind])];
  });
  return (
    <section
      aria-label="Chosen"
      className="mb-2.5 flex flex-wrap items-center gap-x-3 gap-y-1.5 border-l-[3px] border-agreed bg-leaf px-3 py-2"
    >
      <p className="min-w-0 flex-1" aria-live="polite">
        <b className="font-semibold">{kinds.join(', ')}</b>:{' '}
        {data === undefined ? (
          <span className="text-ink-2">{isError ? '' : 'are being tried together'}</span>
        ) : (
          <span className={isPlaceholderData ? 'text-ink-3' : ''}>
            {data.price !== null && <span className="text-ink-2">{priceWords(data.price)}</span>}
            {data.against.map((sentence) => (
              <span key={sentence} className="block text-off">
                {sentence}
              </span>
            ))}
          </span>
        )}
      </p>
      {isError && <ErrorNotice error={error} />}
      <EditorButton disabled={isPencilling} title="P" onClick={onPencil}>
        {isPencilling ? 'Pencilling' : 'Pencil in'}
      </EditorButton>
      <Button look="text" onClick={onClear}>
        Choose none
      </Button>
    </section>
  );
}
