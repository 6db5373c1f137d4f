import type { Edit, WhySeveral } from '../api/client';
import { Button } from '../parts/Button';
import { bytes, count } from '../parts/words';
import { copyInk } from './copy-inks';

interface Props {
  readonly several: WhySeveral;
  readonly onTry: (edits: readonly Edit[]) => void;
}

const MOST_DEMANDS = 6;

/** The copies of a package side by side: what asks for each, what forces them, and which could go. */
export function SeveralCopies({ several, onTry }: Props) {
  const { copies, least, forcedBy, needless, copiesNow } = several;
  return (
    <section aria-label="Why several copies">
      <h2 className="font-serif text-lg font-semibold">
        Why {NUMBERS[copies.length] ?? copies.length} copies
      </h2>
      <p className="text-sm text-ink-2">{summary(several)}</p>
      <div className="grid grid-cols-[repeat(auto-fit,minmax(170px,1fr))] gap-x-4 pt-2">
        {copies.map(({ version, demands, projects, chains, bytes: size }, i) => (
          <div
            key={version}
            className="border-t-2 pt-1"
            style={{ borderColor: copyInk(i, copies.length) }}
          >
            <h3 className="font-mono font-semibold" style={{ color: copyInk(i, copies.length) }}>
              {version}
            </h3>
            <p className="text-sm text-ink-2">
              {count(projects, 'project')}, {chains ?? 'very many'} chains, {bytes(size)}
            </p>
            <ul className="text-sm">
              {demands.slice(0, MOST_DEMANDS).map(({ owner, range }) => (
                <li key={`${owner} ${range}`}>
                  {owner} <code className="font-mono text-xs text-ink-2">{range}</code>
                  {forcedBy.some((one) => one.owner === owner && one.range === range) && (
                    <span className="text-off"> clashes</span>
                  )}
                </li>
              ))}
              {demands.length > MOST_DEMANDS && <li>and {demands.length - MOST_DEMANDS} more</li>}
            </ul>
          </div>
        ))}
      </div>
      {needless.map(({ version, rePicks, copiesAfter }) => (
        <p key={version} className="mt-2 border-l-[3px] border-agreed bg-leaf p-2">
          <b className="font-mono">{version}</b> need not be there: pick{' '}
          {rePicks.map(({ name, to }) => `${name} ${to}`).join(' and ')}. Copies in the lockfile{' '}
          <span className="font-mono">
            {copiesNow} → {copiesAfter}
          </span>
          , no manifest changes.{' '}
          <Button
            look="text"
            onClick={() =>
              onTry(
                rePicks.map(({ name, from, to }) => ({ kind: 're-pick', package: name, from, to })),
              )
            }
          >
            Try it
          </Button>
        </p>
      ))}
      {copies.length > 1 && needless.length === 0 && (
        <p className="pt-1 text-sm text-ink-2">
          {least >= copies.length
            ? 'No release meets any two of the demands that clash.'
            : `${least} would do, but no other pick was found that leaves the rest as it is.`}
        </p>
      )}
    </section>
  );
}

const NUMBERS: Readonly<Record<number, string>> = { 2: 'two', 3: 'three', 4: 'four', 5: 'five' };

function summary({ copies, least, needless }: WhySeveral): string {
  if (needless.length > 0)
    return `${needless.length === 1 ? 'One of them need' : `${needless.length} of them need`} not be there.`;
  return `Forced: what is asked needs at least ${Math.max(least, 1)} of these ${copies.length}.`;
}
