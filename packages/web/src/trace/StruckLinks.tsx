import { Link } from 'react-router';
import type { NamedLink, Without } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { bytes, count } from '../parts/words';

interface Props {
  readonly slug: string;
  readonly struck: readonly NamedLink[];
  readonly without: Without | undefined;
  readonly error: Error | null;
  readonly onTakeBack: (index: number) => void;
}

const MOST_NAMED = 24;

/** Links between copies that are thought away, and what would leave with them. */
export function StruckLinks({ slug, struck, without, error, onTakeBack }: Props) {
  const owners = [...new Set(struck.map(({ from }) => from.split(' ')[0]!))];
  return (
    <section
      aria-label="Links struck out"
      className="mb-3 border-l-[3px] border-dashed border-pencil bg-leaf p-3"
    >
      <h2 className="font-serif text-lg font-semibold">Struck out</h2>
      <ul className="text-pencil italic">
        {struck.map(({ from, to }, i) => (
          <li key={`${from} ${to}`} className="flex items-baseline gap-3">
            <span>
              {from} without {to}
            </span>
            <Button look="text" className="text-sm not-italic" onClick={() => onTakeBack(i)}>
              Take back
            </Button>
          </li>
        ))}
      </ul>
      {error !== null && <ErrorNotice error={error} />}
      {without === undefined
        ? error === null && (
            <p role="status" className="text-sm text-ink-2">
              Following what is left.
            </p>
          )
        : error === null && <p className="pt-1">{leavingWords(without)}</p>}
      <p className="pt-1 text-sm text-ink-2">
        The release itself says so, and no draft can change that. What a draft can change is which
        release of{' '}
        {owners.map((name, i) => (
          <span key={name}>
            {i > 0 && ', '}
            <Link
              className="text-agreed underline"
              to={`/w/${slug}/alignment?scope=all&q=${encodeURIComponent(name)}&open=${encodeURIComponent(name)}`}
            >
              {name}
            </Link>
          </span>
        ))}{' '}
        is used, and who requires it.
      </p>
    </section>
  );
}

function leavingWords({ copies, bytes: size }: Without): string {
  if (copies.length === 0) return 'Nothing would leave: all of it comes in otherwise, too.';
  const more = copies.length - MOST_NAMED;
  const named = copies.slice(0, MOST_NAMED).join(', ');
  return `${count(copies.length, 'copy', 'copies')} and ${bytes(size)} would leave: ${named}${more > 0 ? ` and ${more} more` : ''}.`;
}
