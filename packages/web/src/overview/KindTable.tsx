import type { Overview, OverviewPoint } from '../api/client';
import { KIND_WORDS } from '../findings/kind-words';
import { HeadCell } from '../parts/HeadCell';
import { TextLink } from '../parts/TextLink';
import { day } from '../parts/words';

interface Props {
  readonly slug: string;
  readonly overview: Overview;
}

/** How many findings of each kind there are now, and were at the oldest and at each commit. */
export function KindTable({ slug, overview: { now, points } }: Props) {
  const first = points[0];
  const kinds = [
    ...new Set([...now.byKind, ...(first?.byKind ?? [])].map(({ kind }) => kind)),
  ].sort((a, b) => of(now.byKind, b) - of(now.byKind, a));
  return (
    <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
      <thead>
        <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
          <HeadCell>Kind</HeadCell>
          <HeadCell className="w-[220px] max-fold:hidden">At each commit</HeadCell>
          <HeadCell className="w-[120px] text-right">
            {first === undefined ? 'Before' : day(first.at)}
          </HeadCell>
          <HeadCell className="w-[70px] text-right">Now</HeadCell>
        </tr>
      </thead>
      <tbody>
        {kinds.map((kind, i) => (
          <tr
            key={kind}
            className={`border-b border-rule ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
          >
            <td className="px-2 py-1">
              <TextLink to={`/w/${slug}/findings?kind=${kind}`}>{KIND_WORDS[kind]}</TextLink>
            </td>
            <td className="px-2 max-fold:hidden">
              <Spark values={points.map(({ byKind }) => of(byKind, kind))} />
            </td>
            <td className="px-2 text-right font-mono text-sm text-ink-2">
              {first === undefined ? '' : of(first.byKind, kind)}
            </td>
            <td className="px-2 text-right font-mono text-sm">{of(now.byKind, kind)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function of(counts: OverviewPoint['byKind'], kind: string): number {
  return counts.find((one) => one.kind === kind)?.count ?? 0;
}

const WIDTH = 200;
const HEIGHT = 18;

function Spark({ values }: { readonly values: readonly number[] }) {
  const most = Math.max(1, ...values);
  const step = values.length < 2 ? 0 : WIDTH / (values.length - 1);
  const points = values.map(
    (value, i) => `${i * step},${HEIGHT - 1 - (value / most) * (HEIGHT - 2)}`,
  );
  return (
    <svg aria-hidden viewBox={`0 0 ${WIDTH} ${HEIGHT}`} className="block h-[18px] w-[200px]">
      <polyline points={points.join(' ')} fill="none" stroke="var(--ink-2)" strokeWidth="1.2" />
    </svg>
  );
}
