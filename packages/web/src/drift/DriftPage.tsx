import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useState, type FormEvent } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api, type Drift, type DriftLine } from '../api/client';
import { keys } from '../api/keys';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { useDayText } from '../parts/useDayText';
import { HeadCell } from '../parts/HeadCell';
import { Notice } from '../parts/Notice';
import { TrendChart } from '../parts/TrendChart';
import { count, day, short } from '../parts/words';

const FIELD = 'h-[30px] rounded-sm border border-rule-strong bg-leaf px-2 font-mono text-sm';

/** What would a fresh machine get without the lockfile? */
export function DriftPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const query = daysOf(params);
  const commit = state?.head.commit;
  const drift = useQuery({
    queryKey: keys.drift(slug, commit, query),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/drift', { params: { path: { slug }, query }, signal }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
    retry: false,
  });
  const { data } = drift;
  return (
    <>
      <PageHead title="Drift" state={state}>
        {data === undefined ? 'Resolving without the lockfile.' : headingOf(data)}
      </PageHead>
      <OverTime slug={slug} commit={commit} />
      <Days
        key={JSON.stringify(query)}
        day={query.day ?? ''}
        from={query.from ?? ''}
        onShow={(values) => change(values)}
      />
      {drift.isError && <ErrorNotice error={drift.error} onRetry={() => void drift.refetch()} />}
      {data !== undefined && data.explanation.length > 0 && (
        <Notice kind="trouble" title="No answer on that day">
          {data.explanation.map((sentence) => (
            <p key={sentence}>{sentence}</p>
          ))}
        </Notice>
      )}
      {data !== undefined && data.explanation.length === 0 && data.lines.length === 0 && (
        <p className="rule-double-top bg-leaf px-3 py-8 text-center text-ink-2">
          No copy differs: all {data.same} are the same.
        </p>
      )}
      {data !== undefined && data.lines.length > 0 && <Lines drift={data} />}
    </>
  );
}

function daysOf(params: URLSearchParams): { day?: string; from?: string } {
  const [at, from] = [params.get('day'), params.get('from')];
  return { ...(at === null ? {} : { day: at }), ...(from === null ? {} : { from }) };
}

function Days({
  day: shownDay,
  from: shownFrom,
  onShow,
}: {
  readonly day: string;
  readonly from: string;
  readonly onShow: (values: { day: string | null; from: string | null }) => void;
}) {
  const [at, setAt] = useState(shownDay);
  const [from, setFrom] = useState(shownFrom);
  const atText = useDayText(at, setAt);
  const fromText = useDayText(from, setFrom);
  const submit = (event: FormEvent): void => {
    event.preventDefault();
    onShow({ day: at || null, from: from || null });
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-center gap-2 pt-4 pb-2.5">
      <span className="text-ink-2">A fresh resolution on</span>
      <input aria-label="Day" aria-invalid={atText.isWrong} className={FIELD} {...atText.input} />
      <span className="text-ink-2">against the lockfile, or one on</span>
      <input
        aria-label="Against the day"
        aria-invalid={fromText.isWrong}
        className={FIELD}
        {...fromText.input}
      />
      <Button type="submit" look="quiet">
        Show
      </Button>
      {(shownDay !== '' || shownFrom !== '') && (
        <Button look="text" onClick={() => onShow({ day: null, from: null })}>
          today against the lockfile
        </Button>
      )}
    </form>
  );
}

const MOST_DEMANDS = 2;

const STEP_WORDS: Readonly<Record<NonNullable<DriftLine['step']>, string>> = {
  none: 'build only',
  prerelease: 'prerelease',
  patch: 'patch',
  minor: 'minor',
  major: 'major',
};

function Lines({ drift: { lines, from } }: { readonly drift: Drift }) {
  return (
    <div className="overflow-x-auto">
      <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
        <thead>
          <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
            <HeadCell className="w-[200px]">Package</HeadCell>
            <HeadCell className="w-[100px]">
              {from === null ? 'Lockfile' : `On ${from.slice(5)}`}
            </HeadCell>
            <HeadCell className="w-[100px]">Fresh</HeadCell>
            <HeadCell className="w-[110px] max-fold:hidden">How far</HeadCell>
            <HeadCell className="max-fold:hidden">By whose range</HeadCell>
          </tr>
        </thead>
        <tbody>
          {lines.map((line) => {
            const { name, from: before, to, step, direction, demands, more } = line;
            return (
              <tr
                key={`${name} ${before} ${to}`}
                className="border-b border-rule align-baseline [&:nth-child(4n+3)]:bg-bar [&:nth-child(4n+4)]:bg-bar"
              >
                <td className="truncate px-2 py-1.5">{name}</td>
                <td className="px-2 font-mono text-sm">{before ?? '—'}</td>
                <td className="px-2 font-mono text-sm">
                  {to ?? <span className="text-off">goes</span>}
                </td>
                <td className="px-2 text-sm max-fold:hidden">
                  {step === null
                    ? before === null
                      ? 'comes new'
                      : 'goes'
                    : `${direction === 'down' ? 'down a ' : ''}${STEP_WORDS[step]}`}
                </td>
                <td className="px-2 text-sm text-ink-2 max-fold:hidden">
                  {demands.slice(0, MOST_DEMANDS).map(({ owner, isProject, range }, i) => (
                    <span key={`${owner} ${range}`}>
                      {i > 0 && ', '}
                      <span className={isProject ? 'text-ink' : ''}>{owner}</span>{' '}
                      <code className="font-mono">{range}</code>
                    </span>
                  ))}
                  {demands.length + more > MOST_DEMANDS &&
                    ` and ${demands.length + more - MOST_DEMANDS} more`}
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function OverTime({
  slug,
  commit,
}: {
  readonly slug: string;
  readonly commit: string | undefined;
}) {
  const line = useQuery({
    queryKey: keys.driftLine(slug, commit),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/drift/over-time', { params: { path: { slug } }, signal }),
      ),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
  const { data } = line;
  if (line.isError) return <ErrorNotice error={line.error} onRetry={() => void line.refetch()} />;
  if (data === undefined || data.total === 0) return null;
  return (
    <div className="rule-double-top bg-leaf px-3 pt-3 pb-2">
      <TrendChart
        title="Copies that a fresh resolution would have changed, week by week"
        unit="copies"
        points={data.points.map(({ day: at, copies, commit: stood }) => ({
          at,
          value: copies,
          label: `the branch stood at ${short(stood)}`,
        }))}
      />
      {data.points.length < data.total && (
        <p role="status" className="text-sm text-ink-2">
          {data.points.length} of {count(data.total, 'week')} worked out, the newest first
        </p>
      )}
    </div>
  );
}

function headingOf({ lines, same, day: at, from, explanation }: Drift): string {
  if (explanation.length > 0) return `On ${day(at)} there would have been no answer.`;
  const against = from === null ? 'the lockfile' : `a resolution on ${day(from)}`;
  const far = lines.filter(({ step }) => step === 'major').length;
  if (lines.length === 0) return `A fresh resolution on ${day(at)} gives just what ${against} has.`;
  return `A fresh resolution on ${day(at)} differs from ${against} in ${count(lines.length, 'copy', 'copies')}${far > 0 ? `, ${count(far, 'major step')} among them` : ''}; ${same} are the same.`;
}
