import { Link, NavLink, useSearchParams } from 'react-router';
import type { WorkspaceState } from '../api/client';
import { useFindingCount } from '../findings/useFindings';
import { RunningWork } from '../live/RunningWork';
import { ago, count, short } from '../parts/words';
import { SignedIn } from '../session/SignedIn';
import { ThemeChoice } from './ThemeChoice';
import { useDrafts } from './useDraftInHand';
import { useNow } from './useNow';
import { useRefresh } from './useWorkspace';

interface Props {
  readonly slug: string;
  readonly state: WorkspaceState | undefined;
}

/** The table of contents: pages, leaders, and the figure that each page stands for. */
export function Index({ slug, state }: Props) {
  const [params] = useSearchParams();
  const drafts = useDrafts(slug);
  const draft = params.get('draft');
  const query = draft === null ? '' : `?draft=${draft}`;
  const open = useFindingCount(slug, state?.head.commit).data?.open;
  const lines = [
    { to: 'overview', text: 'Overview', figure: '' },
    {
      to: 'alignment',
      text: 'Alignment',
      figure: state === undefined ? '' : String(state.alignmentRows),
    },
    {
      to: 'trace',
      text: 'Trace',
      figure: state?.lock.copies == null ? '' : String(state.lock.copies),
    },
    { to: 'findings', text: 'Findings', figure: open === undefined ? '' : String(open) },
    {
      to: 'lockfile',
      text: 'Lockfile',
      figure: state === undefined ? '' : state.lock.state,
    },
    { to: 'drift', text: 'Drift', figure: '' },
    { to: 'machines', text: 'Machines', figure: '' },
    { to: 'projects', text: 'Projects', figure: state === undefined ? '' : String(state.projects) },
    { to: 'shared', text: 'Shared', figure: state === undefined ? '' : String(state.agreed) },
    { to: 'centralise', text: 'Centralise', figure: '' },
    {
      to: 'diff',
      text: 'Drafts',
      figure: drafts.data === undefined ? '' : String(drafts.data.length),
    },
    { to: 'merge', text: 'Merge branches', figure: '' },
    { to: 'journal', text: 'Journal', figure: state === undefined ? '' : String(state.posts) },
    { to: 'team', text: 'Team', figure: '' },
  ];
  return (
    <nav
      aria-label="Contents"
      className="flex gap-4 border-rule-strong px-4 pt-3 pb-2 max-fold:items-baseline max-fold:border-b-3 max-fold:[border-bottom-style:double] fold:min-h-screen fold:flex-col fold:border-r-3 fold:[border-right-style:double] fold:pt-5"
    >
      <div>
        <Link to="/" className="font-serif text-[19px]/[22px] font-bold tracking-[-0.01em]">
          Deep Ledger
        </Link>
        <p className="text-sm text-ink-2 max-fold:hidden">{state?.name ?? slug}</p>
      </div>
      <ul className="flex flex-1 max-fold:flex-wrap max-fold:justify-end max-fold:gap-x-4 fold:flex-none fold:flex-col">
        {lines.map(({ to, text, figure }) => (
          <li key={to}>
            <NavLink
              to={`/w/${slug}/${to}${query}`}
              className={({ isActive }) =>
                `relative flex items-baseline py-1 hover:text-ink ${isActive ? 'font-semibold text-ink before:absolute before:top-1.5 before:-left-4 before:h-4 before:w-[3px] before:bg-agreed max-fold:before:hidden' : 'text-ink-2'}`
              }
            >
              {text}
              <span
                aria-hidden
                className="mx-1.5 flex-1 -translate-y-1 border-b border-dotted border-ink-3 max-fold:hidden"
              />
              <span className="font-mono text-sm max-fold:ml-1">{figure}</span>
            </NavLink>
          </li>
        ))}
      </ul>
      {state !== undefined && <Foot slug={slug} state={state} />}
    </nav>
  );
}

function Foot({ slug, state }: { readonly slug: string; readonly state: WorkspaceState }) {
  const now = useNow();
  const refresh = useRefresh(slug);
  return (
    <div className="mt-auto flex flex-col text-sm text-ink-3 max-fold:hidden">
      <RunningWork slug={slug} />
      <span>{count(state.projects, 'project')}</span>
      <span className="truncate" title={`${state.head.subject} (${state.head.author})`}>
        {state.branch} at <code className="font-mono">{short(state.head.commit)}</code>
      </span>
      <span>
        read {ago(state.readAt, now)} ·{' '}
        <button
          type="button"
          disabled={refresh.isPending}
          onClick={() => refresh.mutate()}
          className="underline decoration-rule-strong underline-offset-3"
        >
          {refresh.isPending ? 'reading' : 'read now'}
        </button>
      </span>
      <SignedIn />
      <ThemeChoice />
    </div>
  );
}
