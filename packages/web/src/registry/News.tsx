import type { RegistryNews } from '../api/client';
import { count, day } from '../parts/words';

interface Props {
  readonly news: RegistryNews;
  readonly onOpen: (name: string, release: string) => void;
}

/** What registries have done lately with what is in use: what left, and who still uses it; what came. */
export function News({ news: { published, left }, onOpen }: Props) {
  return (
    <section aria-label="News of what is in use" className="rule-double-top bg-leaf p-3">
      <h2 className="font-serif text-base text-ink-2 italic">Left: withdrawn or deprecated</h2>
      {left.length === 0 && (
        <p className="text-ink-2">Registries stand by every release in the lockfile.</p>
      )}
      <ul>
        {left.map((one) => (
          <li key={`${one.name} ${one.version}`} className="border-b border-rule py-1">
            <Opener name={one.name} version={one.version} onOpen={onOpen} />{' '}
            <span className="text-off">{one.why}</span>
            {one.says !== null && <span className="text-ink-2">: {one.says}</span>}
            <span className="block text-sm text-ink-2">used by {usersOf(one)}</span>
          </li>
        ))}
      </ul>
      <h2 className="pt-3 font-serif text-base text-ink-2 italic">Published since yesterday</h2>
      {published.length === 0 && <p className="text-ink-2">Nothing of what is in use.</p>}
      <ul>
        {published.map((one) => (
          <li key={`${one.name} ${one.version}`} className="border-b border-rule py-1">
            <Opener name={one.name} version={one.version} onOpen={onOpen} />{' '}
            <span className="text-ink-2">{day(one.published)}</span>
          </li>
        ))}
      </ul>
      <p className="pt-3 text-sm text-ink-2">
        Open a package to see its releases, what it needs, and what adding it would bring.
      </p>
    </section>
  );
}

function Opener({
  name,
  version,
  onOpen,
}: {
  readonly name: string;
  readonly version: string;
  readonly onOpen: Props['onOpen'];
}) {
  return (
    <button
      type="button"
      className="font-semibold text-agreed hover:underline"
      onClick={() => onOpen(name, version)}
    >
      {name} <code className="font-mono font-normal">{version}</code>
    </button>
  );
}

const MOST_NAMED = 4;

function usersOf({ projects, copies }: RegistryNews['left'][number]): string {
  const all = [...projects, ...copies];
  if (all.length === 0) return 'nobody';
  const named = all.slice(0, MOST_NAMED).join(', ');
  return all.length <= MOST_NAMED
    ? named
    : `${named} and ${count(all.length - MOST_NAMED, 'other')}`;
}
