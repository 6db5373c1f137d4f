import type { Decision, MergeConflict } from '../api/client';
import { TextLink } from '../parts/TextLink';

interface Props {
  readonly slug: string;
  /** Names of the branches. */
  readonly ours: string;
  readonly theirs: string;
  readonly conflict: MergeConflict;
  readonly onDecide: (side: Decision['side']) => void;
}

/** One thing that both sides changed, side by side; a click settles it. */
export function ConflictCard({ slug, ours, theirs, conflict, onDecide }: Props) {
  const { file, path, base, decided, package: name, chains } = conflict;
  const sides = [
    { side: 'ours', title: ours, value: conflict.ours },
    { side: 'base', title: 'where they parted', value: base },
    { side: 'theirs', title: theirs, value: conflict.theirs },
  ] as const;
  const what = path.length === 0 ? file : path.join(' ');
  return (
    <section
      aria-label={`Conflict: ${what}`}
      className={`rule-double-top border-l-[3px] bg-leaf px-3 py-2 ${decided === null ? 'border-l-off' : 'border-l-agreed'}`}
    >
      <h2 className="flex items-baseline gap-2">
        <b className="font-semibold">{what}</b>
        <span className="text-sm text-ink-2">in {file}</span>
        <span className={`ml-auto text-sm ${decided === null ? 'text-off' : 'text-agreed'}`}>
          {decided === null ? 'not decided' : 'decided'}
        </span>
      </h2>
      <div className="grid grid-cols-3 gap-3 pt-1.5 max-fold:grid-cols-1">
        {sides.map(({ side, title, value }) => (
          <button
            key={side}
            type="button"
            aria-pressed={decided === side}
            onClick={() => onDecide(side)}
            className={`rounded-sm border px-2 py-1.5 text-left ${decided === side ? 'border-agreed bg-agreed-wash' : 'border-rule-strong hover:bg-bar'}`}
          >
            <span className="block text-sm text-ink-2">
              {decided === side ? 'stands: ' : 'take '}
              {title}
            </span>
            <code className="block max-h-[96px] overflow-auto font-mono text-sm [overflow-wrap:anywhere] whitespace-pre-wrap">
              {value ?? <span className="text-ink-3">not there</span>}
            </code>
          </button>
        ))}
      </div>
      {name !== null && (
        <div className="pt-1.5 text-sm text-ink-2">
          {chains.length > 0 && <p>In {ours} it leads to:</p>}
          {chains.map((chain) => (
            <p key={chain.join(' ')} className="truncate">
              {chain.join(' → ')}
            </p>
          ))}
          <TextLink to={`/w/${slug}/trace?package=${encodeURIComponent(name)}`}>
            Who brings {name} in
          </TextLink>
        </div>
      )}
    </section>
  );
}
