import { useQuery } from '@tanstack/react-query';
import { useOutletContext } from 'react-router';
import { answer, api, type Overview, type OverviewPoint } from '../api/client';
import { keys } from '../api/keys';
import { RemedyTable } from '../findings/RemedyTable';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { TrendChart, type TrendPoint } from '../parts/TrendChart';
import { count, short } from '../parts/words';
import { KindTable } from './KindTable';
import { NextSteps } from './NextSteps';

/** Is the workspace in order, is it getting better, and what should be done first? */
export function OverviewPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const overview = useQuery({
    queryKey: keys.overview(slug, state?.head.commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/overview', { params: { path: { slug } }, signal })),
    enabled: state !== undefined,
  });
  const { data } = overview;
  const points = data === undefined ? [] : withToday(data);
  return (
    <>
      <PageHead title="Overview" state={state}>
        {data === undefined ? 'Reading source, lockfile and history.' : headingOf(data)}
      </PageHead>
      {overview.isError && (
        <ErrorNotice error={overview.error} onRetry={() => void overview.refetch()} />
      )}
      {data !== undefined && (
        <>
          <Progress overview={data} />
          <NextSteps slug={slug} overview={data} />
          <div className="rule-double-top grid grid-cols-2 gap-x-6 gap-y-3 bg-leaf px-3 pt-3 pb-2 max-fold:grid-cols-1">
            <TrendChart
              title="Shared packages out of line"
              unit="packages"
              points={points.map(figure(({ outOfLine }) => outOfLine))}
            />
            <TrendChart
              title="Copies in the lockfile"
              unit="copies"
              points={points.map(figure(({ copies }) => copies))}
            />
            <TrendChart
              title="Findings"
              unit="findings"
              points={points.map(figure(({ error, warning, note }) => error + warning + note))}
            />
            <TrendChart
              title="Age behind, median"
              unit="days"
              points={points.map(figure(({ daysBehind }) => daysBehind))}
            />
          </div>
          <div className="pt-4" />
          {data.remedies.length === 0 ? (
            <p className="rule-double-top bg-leaf px-3 py-6 text-center text-ink-2">
              Nothing can be cleared without a decision.
            </p>
          ) : (
            <RemedyTable remedies={data.remedies} />
          )}
          <h2 className="pt-4 pb-1.5 font-serif text-lg font-semibold">Findings by kind</h2>
          <KindTable slug={slug} overview={data} />
        </>
      )}
    </>
  );
}

/** A figure of each point. */
function figure(value: (point: OverviewPoint) => number): (point: OverviewPoint) => TrendPoint {
  return (point) => ({
    at: point.at,
    value: value(point),
    label: `${short(point.commit)} ${point.subject}`,
  });
}

/** The points with how it is now: a day later than a commit, more can be behind. */
function withToday({ points, now, commit }: Overview): readonly OverviewPoint[] {
  const at = new Date().toISOString();
  return [...points, { ...now, commit, subject: 'as it is now', author: '', at }];
}

function Progress({ overview: { points, total, trouble } }: { readonly overview: Overview }) {
  if (trouble !== null) {
    return (
      <div className="pb-3">
        <Notice kind="caution" title="The history could not be worked out to its end">
          {trouble}
        </Notice>
      </div>
    );
  }
  if (points.length >= total) return null;
  return (
    <p role="status" className="flex items-center gap-2 pb-3 text-sm text-ink-2">
      <progress max={total} value={points.length} className="h-2 w-[160px]" />
      {points.length} of {count(total, 'commit')} looked at, the newest first
    </p>
  );
}

function headingOf({ now, lock, points, muted }: Overview): string {
  const { error, warning, note, outOfLine, shared, requirements, taking } = now;
  const findings = error + warning + note;
  const before = points.length < 2 ? null : points[0]!.outOfLine;
  const change =
    before === null
      ? ''
      : before === outOfLine
        ? ', as at the oldest commit'
        : ` (${before} at the oldest commit)`;
  const line =
    outOfLine === 0
      ? `All ${shared} shared packages are in line${change}`
      : `${outOfLine} of ${shared} shared packages are out of line${change}`;
  const share = requirements === 0 ? 0 : Math.round((100 * taking) / requirements);
  const muting = muted === 0 ? '' : ` and ${muted} muted`;
  return `${line}; ${share}% of all ${requirements} requirements take an agreed version; ${count(findings, 'finding')}${muting}; the lockfile is ${lock}.`;
}
