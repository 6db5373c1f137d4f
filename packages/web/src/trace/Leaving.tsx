import { useState } from 'react';
import { ErrorNotice } from '../parts/ErrorNotice';
import { bytes, count } from '../parts/words';
import { useLeaving } from './useTrace';

interface Props {
  readonly slug: string;
  readonly commit: string | undefined;
  /** A project's folder, or name and version of a copy. */
  readonly node: string | undefined;
}

const MOST_NAMED = 24;

/** What would leave with a node, once somebody asks. */
export function Leaving({ slug, commit, node }: Props) {
  const [isAsked, setAsked] = useState(false);
  if (node === undefined) return null;
  return (
    <details onToggle={({ currentTarget }) => setAsked(currentTarget.open)}>
      <summary className="text-agreed">If {node} left</summary>
      {isAsked && <Retained slug={slug} commit={commit} node={node} />}
    </details>
  );
}

/** What nothing else brings. */
function Retained({ slug, commit, node }: Props) {
  const leaving = useLeaving(slug, commit, node);
  if (leaving.isError)
    return <ErrorNotice error={leaving.error} onRetry={() => void leaving.refetch()} />;
  if (leaving.data === undefined)
    return <p className="text-sm text-ink-2">Looking what nothing else brings.</p>;
  const { copies, bytes: size } = leaving.data;
  return (
    <p className="text-sm text-ink-2">
      {copies.length === 0
        ? 'Nothing else would leave with it; all that it brings comes in otherwise, too.'
        : `It would take ${count(copies.length, 'copy', 'copies')} and ${bytes(size)} with it, which nothing else brings: ${copies.slice(0, MOST_NAMED).join(', ')}${copies.length > MOST_NAMED ? ` and ${copies.length - MOST_NAMED} more` : ''}.`}
    </p>
  );
}
