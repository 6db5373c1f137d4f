import { bytes, count } from '../parts/words';
import { useLeaving } from './useTrace';

interface Props {
  readonly slug: string;
  readonly commit: string | undefined;
  /** A project's folder, or name and version of a copy. */
  readonly node: string | undefined;
}

const MOST_NAMED = 24;

/** What nothing else brings, and would leave with a node. */
export function Leaving({ slug, commit, node }: Props) {
  const leaving = useLeaving(slug, commit, node);
  if (node === undefined || leaving.data === undefined) return null;
  const { copies, bytes: size } = leaving.data;
  return (
    <section aria-label="What leaves with it">
      <h2 className="font-serif text-lg font-semibold">If {node} left</h2>
      <p className="text-sm text-ink-2">
        {copies.length === 0
          ? 'nothing else would leave with it; all that it brings comes in otherwise, too.'
          : `it would take ${count(copies.length, 'copy', 'copies')} and ${bytes(size)} with it, that nothing else brings: ${copies.slice(0, MOST_NAMED).join(', ')}${copies.length > MOST_NAMED ? ` and ${copies.length - MOST_NAMED} more` : ''}.`}
      </p>
    </section>
  );
}
