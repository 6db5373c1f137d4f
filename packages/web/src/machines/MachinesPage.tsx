import { useOutletContext } from 'react-router';
import type { MachineLine, Stand } from '../api/client';
import { PageHead } from '../frame/PageHead';
import { useNow } from '../frame/useNow';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { HeadCell } from '../parts/HeadCell';
import { TextLink } from '../parts/TextLink';
import { ago, count, short, sumDigits } from '../parts/words';
import { useMachines } from './useMachines';

const KIND_WORDS = { machine: 'machine', build: 'build run', branch: 'branch' } as const;

/** Which machines and build runs stand on which lockfile? */
export function MachinesPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const now = useNow();
  const commit = state?.head.commit;
  const branch = state?.branch ?? 'the branch';
  const machines = useMachines(slug, commit);
  const { data } = machines;
  const lines = [...(data?.lines ?? [])].sort((a, b) => rank(a) - rank(b));
  return (
    <>
      <PageHead title="Machines" state={state}>
        {data === undefined
          ? 'Reading who stands on which lockfile.'
          : headingOf(data.lines, branch)}
      </PageHead>
      {machines.isError && (
        <ErrorNotice error={machines.error} onRetry={() => void machines.refetch()} />
      )}
      {data !== undefined && data.lines.every(({ kind }) => kind === 'branch') && (
        <div className="rule-double-top mb-4 bg-leaf px-3 py-4 text-ink-2">
          <p>A machine or a build run reports with</p>
          <p className="my-2 font-mono text-sm [overflow-wrap:anywhere] text-ink">
            DEEP_LEDGER_TOKEN=… bin/deep-ledger report --to {window.location.origin} --workspace{' '}
            {slug} --kind build --name nightly
          </p>
          <p>
            A keeper makes the token on the page of the{' '}
            <TextLink to={`/w/${slug}/team`}>team</TextLink>.
          </p>
        </div>
      )}
      {lines.length > 0 && (
        <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
          <thead>
            <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
              <HeadCell className="w-[150px]">Who</HeadCell>
              <HeadCell className="w-[96px] max-fold:hidden">Branch</HeadCell>
              <HeadCell>Its lockfile</HeadCell>
              <HeadCell className="max-fold:hidden">What is installed</HeadCell>
              <HeadCell className="w-[92px] text-right">Reported</HeadCell>
            </tr>
          </thead>
          <tbody>
            {lines.map((line) => (
              <tr
                key={`${line.kind} ${line.name}`}
                className={`border-b border-rule align-baseline [&:nth-child(4n+3)]:bg-bar [&:nth-child(4n+4)]:bg-bar ${line.isFaded ? 'text-ink-3' : ''}`}
              >
                <td className="px-2 py-1.5">
                  {line.name}
                  <span className="block text-sm text-ink-2">{KIND_WORDS[line.kind]}</span>
                </td>
                <td className="truncate px-2 font-mono text-sm max-fold:hidden">
                  {line.kind === 'branch' ? '' : (line.branch ?? 'none')}
                </td>
                <td className="px-2 py-1.5">
                  <Standing stand={line.lock} branch={branch} isBranch={line.kind === 'branch'} />
                </td>
                <td className="px-2 py-1.5 max-fold:hidden">
                  {line.installed === null ? (
                    <span className="text-sm text-ink-2">
                      {line.kind === 'branch' ? '' : 'not told'}
                    </span>
                  ) : line.installed.sum === line.lock.sum ? (
                    <span className="text-sm">the same</span>
                  ) : (
                    <Standing stand={line.installed} branch={branch} isBranch={false} />
                  )}
                </td>
                <td
                  className="px-2 text-right text-sm whitespace-nowrap text-ink-2"
                  title={`The same since ${ago(line.since, now)}`}
                >
                  {ago(line.at, now)}
                  {line.isFaded && <span className="block">old</span>}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}

interface StandingProps {
  readonly stand: Stand;
  /** That the workspace looks at. */
  readonly branch: string;
  /** Branches may have lockfiles of their own. */
  readonly isBranch: boolean;
}

function Standing({ stand, branch, isBranch }: StandingProps) {
  const { sum, state, commit, behind, lacks, keeps } = stand;
  const digits = <code className="font-mono text-sm">{sumDigits(sum)}</code>;
  if (state === 'here')
    return (
      <span>
        {digits} <span className="text-sm text-agreed">where {branch} stands</span>
      </span>
    );
  if (state === 'elsewhere')
    return (
      <span>
        {digits}{' '}
        {isBranch ? (
          <span className="text-sm text-ink-2">a lockfile of its own</span>
        ) : (
          <span className="text-sm text-off">a lockfile that no commit of {branch} has</span>
        )}
      </span>
    );
  return (
    <span>
      {digits}{' '}
      <span className="text-sm text-caution">
        {count(behind, 'change')} behind, at{' '}
        <code className="font-mono">{short(commit ?? '')}</code>
      </span>
      <span className="block text-sm text-ink-2">
        {lacks.length > 0 && `lacks ${some(lacks)}`}
        {lacks.length > 0 && keeps.length > 0 && '; '}
        {keeps.length > 0 && `still has ${some(keeps)}`}
      </span>
    </span>
  );
}

const MOST = 3;

function some(names: readonly string[]): string {
  const shown = names.slice(0, MOST).join(', ');
  return names.length > MOST ? `${shown} and ${names.length - MOST} more` : shown;
}

/** Who needs a word first: those off the branch, then those behind; what fades comes last. */
function rank({ lock, installed, isFaded }: MachineLine): number {
  const worst = Math.min(RANKS[lock.state], installed === null ? 2 : RANKS[installed.state]);
  return worst + (isFaded ? 3 : 0);
}
const RANKS = { elsewhere: 0, behind: 1, here: 2 } as const;

function headingOf(all: readonly MachineLine[], branch: string): string {
  const lines = all.filter(({ kind }) => kind !== 'branch');
  if (lines.length === 0) return 'No machine has reported within the last 30 days.';
  const fresh = lines.filter(({ isFaded }) => !isFaded);
  const here = fresh.filter(({ lock, installed }) =>
    [lock, installed].every((one) => one === null || one.state === 'here'),
  ).length;
  const faded = lines.length - fresh.length;
  return `${here} of ${fresh.length} stand where ${branch} stands${faded > 0 ? `; ${count(faded, 'report')} fading` : ''}.`;
}
