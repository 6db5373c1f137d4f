import { useQuery } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { answer, api, type Comparison } from '../api/client';
import { keys } from '../api/keys';
import { Change } from '../draft/DraftConsequences';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../parts/words';
import { changedLines } from './changed-lines';

interface Props {
  /** A commit or branch; null: the parent of the other. */
  readonly from: string | null;
  readonly to: string;
}

/** Two points of the history by meaning: what manifests say otherwise, and what the lockfile holds otherwise, with the reasons. */
export function ComparisonView({ from, to }: Props) {
  const { slug } = useOutletContext<FrameContext>();
  const comparison = useQuery({
    queryKey: keys.comparison(slug, from, to),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/comparison', {
          params: { path: { slug }, query: from === null ? { to } : { from, to } },
          signal,
        }),
      ),
    retry: false,
  });
  if (comparison.isError)
    return <ErrorNotice error={comparison.error} onRetry={() => void comparison.refetch()} />;
  const { data } = comparison;
  if (data === undefined) return <p className="text-ink-2">Comparing.</p>;
  return (
    <div className="grid grid-cols-2 gap-6 max-fold:grid-cols-1">
      <section aria-label="Manifests">
        <h3 className="font-semibold">
          {data.units.length === 0
            ? 'The manifests say the same.'
            : `${count(data.units.length, 'thing')} written otherwise`}
        </h3>
        <ul className="text-sm">
          {data.units.map((unit) => (
            <Unit key={`${unit.file} ${unit.path.join(' ')}`} unit={unit} />
          ))}
        </ul>
      </section>
      <section aria-label="Lockfile">
        <h3 className="font-semibold">
          Lockfile {data.lockBefore} → {data.lockAfter}
        </h3>
        {data.change === null ? (
          <p className="text-sm text-ink-2">The lockfile cannot be read there.</p>
        ) : (
          <Change change={data.change} />
        )}
      </section>
    </div>
  );
}

const LINE = { gone: 'text-off line-through', kept: '', new: 'text-agreed' } as const;

function Unit({ unit: { file, path, from, to } }: { readonly unit: Comparison['units'][number] }) {
  const [before, after] = [from, to].map((text) => text?.split('\n') ?? []) as [string[], string[]];
  const isShort = before.length <= 1 && after.length <= 1;
  return (
    <li className="border-b border-rule py-1">
      <span className="text-ink-2">{file}</span> {path.join(' ')}
      <code className="block font-mono text-xs [overflow-wrap:anywhere]">
        {changedLines(before, after).map(({ is, text }, i) => (
          <span key={i} className={`${LINE[is]} ${isShort ? 'mr-[1ch]' : 'block'}`}>
            {text}
          </span>
        ))}
      </code>
    </li>
  );
}
