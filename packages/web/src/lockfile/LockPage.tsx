import { keepPreviousData, useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { useDeferredValue } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api, type Lock, type LockCopy } from '../api/client';
import { keys } from '../api/keys';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { CompareForm } from '../journal/CompareForm';
import { Button } from '../parts/Button';
import { csvText } from '../parts/csv';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { ProblemList } from '../parts/ProblemList';
import { SaveLink } from '../parts/SaveLink';
import { Section } from '../parts/Section';
import { SelectField } from '../parts/SelectField';
import { bytes, count, day, short } from '../parts/words';
import { useIs } from '../session/useSession';
import { CopyTable } from './CopyTable';
import { broughtBy, copiesIn, lockViewOf, ORDERS } from './lock-view';

const LAST_CHANGES = 5;

export function useLock(slug: string, commit: string | undefined) {
  return useQuery({
    queryKey: keys.lock(slug, commit),
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/lock', { params: { path: { slug } }, signal })),
    enabled: commit !== undefined,
    placeholderData: keepPreviousData,
  });
}

/** Is the lockfile consistent, what is in it, and who brought that? */
export function LockPage() {
  const { slug, state, takeDraft } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const queries = useQueryClient();
  const mayDraft = useIs('editor');
  const lock = useLock(slug, state?.head.commit);
  const view = useDeferredValue(lockViewOf(params));
  const repair = useMutation({
    mutationFn: () =>
      answer(api.POST('/api/workspaces/{slug}/lock/repair', { params: { path: { slug } } })),
    onSuccess: async ({ id }) => {
      await queries.invalidateQueries({ queryKey: keys.drafts(slug) });
      takeDraft(id);
    },
  });
  const { data } = lock;
  const shown = data === undefined ? [] : copiesIn(data, view);
  return (
    <>
      <PageHead title="Lockfile" state={state}>
        {data === undefined ? 'Reading it.' : headingOf(data)}
      </PageHead>
      {lock.isError && <ErrorNotice error={lock.error} onRetry={() => void lock.refetch()} />}
      {data !== undefined && data.state !== 'consistent' && (
        <div className="pb-4">
          <Notice
            kind={data.state === 'broken' ? 'trouble' : 'caution'}
            title={`The lockfile is ${data.state}: ${count(data.reasons.length, 'reason')}`}
          >
            <div className="max-h-[180px] overflow-auto">
              <ProblemList problems={data.reasons} />
            </div>
            {mayDraft && (
              <Button
                look="text"
                className="mt-1"
                disabled={repair.isPending}
                onClick={() => repair.mutate()}
              >
                {repair.isPending
                  ? 'Repairing'
                  : data.state === 'stale'
                    ? 'Repair it with the fewest changes, as a draft'
                    : 'Restore it from what both sides have, as a draft'}
              </Button>
            )}
          </Notice>
          {repair.isError && <ErrorNotice error={repair.error} />}
        </div>
      )}
      {data !== undefined && (
        <>
          <div className="grid grid-cols-[minmax(0,2fr)_minmax(0,3fr)] gap-6 pb-4 max-fold:grid-cols-1">
            <Section
              title="What each target gets"
              empty={data.targets.length === 0 ? 'The workspace names no targets.' : null}
            >
              <Targets lock={data} />
            </Section>
            <Section
              title="What changed it last"
              empty={
                data.commits.length > 0
                  ? null
                  : data.job === null
                    ? 'No commit has changed it yet.'
                    : 'Its history is being read.'
              }
            >
              <Changes lock={data} onCompare={(from, to) => change({ from, to })} />
            </Section>
          </div>
          <div className="flex flex-wrap items-center gap-x-5 gap-y-2 pb-4">
            <CompareForm
              key={`${params.get('from')} ${params.get('to')}`}
              from={params.get('from')}
              to={params.get('to')}
              branch={state?.branch ?? ''}
              onCompare={(from, to) => change({ from, to })}
            />
          </div>
          <div className="flex flex-wrap items-center gap-3 pb-2">
            <input
              aria-label="Find a copy"
              placeholder="Find a copy"
              value={params.get('q') ?? ''}
              onChange={(event) => change({ q: event.target.value })}
              className="h-[30px] w-[200px] rounded-sm border border-rule-strong bg-leaf px-2"
            />
            <label className="flex items-center gap-1.5 text-sm">
              <input
                type="checkbox"
                checked={view.isSeveral}
                onChange={(event) => change({ several: event.target.checked ? 'yes' : null })}
              />
              only packages with several
            </label>
            <SelectField
              label="Order"
              isInLine
              value={view.order}
              options={ORDERS}
              onChange={(order) => change({ order: order === 'name' ? null : order })}
            />
            <span className="ml-auto flex gap-3 text-sm text-ink-2">
              {shown.length === data.copies.length
                ? count(shown.length, 'copy', 'copies')
                : `${shown.length} of ${count(data.copies.length, 'copy', 'copies')}`}
              <SaveLink name={`${slug}-copies.csv`} text={() => asCsv(data, shown)}>
                save as CSV
              </SaveLink>
            </span>
          </div>
          <CopyTable
            slug={slug}
            lock={data}
            copies={shown}
            open={params.get('open')}
            onOpen={(open) => change({ open })}
          />
        </>
      )}
    </>
  );
}

function Targets({ lock: { targets } }: { readonly lock: Lock }) {
  return (
    <table className="w-full border-collapse">
      <tbody>
        {targets.map(({ target, copies, bytes: size, skipped }) => (
          <tr key={target} className="h-[28px] border-b border-rule last:border-b-0">
            <td className="px-2 font-mono text-sm">{target}</td>
            <td className="px-2 text-right font-mono text-sm">{count(copies, 'copy', 'copies')}</td>
            <td className="px-2 text-right font-mono text-sm text-ink-2">{bytes(size)}</td>
            <td className="px-2 text-right text-sm text-ink-2">
              {skipped > 0 && `${skipped} skipped`}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

function Changes({
  lock: { commits },
  onCompare,
}: {
  readonly lock: Lock;
  readonly onCompare: (from: string | null, to: string) => void;
}) {
  return (
    <table className="w-full table-fixed border-collapse">
      <tbody>
        {commits
          .slice(-LAST_CHANGES)
          .reverse()
          .map(({ commit, subject, author, at, entered, left }) => (
            <tr key={commit} className="h-[28px] border-b border-rule last:border-b-0">
              <td className="w-[94px] px-2 text-sm whitespace-nowrap text-ink-2">{day(at)}</td>
              <td className="truncate px-2 text-sm" title={`${subject} (${author})`}>
                {subject}
              </td>
              <td className="w-[72px] px-2 text-right font-mono text-sm whitespace-nowrap">
                +{entered} −{left}
              </td>
              <td className="w-[44px] px-2 text-right text-sm">
                <Button
                  look="text"
                  aria-label={`Why: what ${short(commit)} changed`}
                  onClick={() => onCompare(null, short(commit, 12))}
                >
                  why
                </Button>
              </td>
            </tr>
          ))}
      </tbody>
    </table>
  );
}

function headingOf({ state, copies, bytes: size, commits, job }: Lock): string {
  const packages = new Set(copies.map(({ name }) => name)).size;
  const several = new Set(copies.filter((one) => one.isOneOfSeveral).map(({ name }) => name)).size;
  const last = commits.at(-1);
  const holds = `${count(copies.length, 'copy', 'copies')} of ${count(packages, 'package')}, ${bytes(size)}; ${several} have several`;
  const since =
    job !== null
      ? ''
      : last === undefined
        ? ''
        : ` ${count(commits.length, 'commit')} changed it, the last on ${day(last.at)}.`;
  const says = {
    consistent: 'It answers every requirement as it is written.',
    stale: 'The manifests have moved on.',
    broken: 'It cannot be read.',
  }[state];
  return state === 'broken' ? says : `${says} ${holds}.${since}`;
}

function asCsv(lock: Lock, copies: readonly LockCopy[]): string {
  return csvText([
    ['package', 'release', 'demands', 'bytes', 'since', 'commit', 'by'],
    ...copies.map((copy) => {
      const brought = broughtBy(lock, copy);
      return [
        copy.name,
        copy.version,
        String(copy.demands),
        String(copy.bytes),
        brought?.at ?? '',
        brought?.commit ?? '',
        brought?.author ?? '',
      ];
    }),
  ]);
}
