import { useState } from 'react';
import { Link, NavLink, useLocation, useSearchParams } from 'react-router';
import type { WorkspaceState } from '../api/client';
import { useFindingCount } from '../findings/useFindings';
import { RunningWork } from '../live/RunningWork';
import { PlainButton } from '../parts/PlainButton';
import { ago, count, short } from '../parts/words';
import { SignedIn } from '../session/SignedIn';
import { indexGroups, type IndexLine } from './index-groups';
import { ThemeChoice } from './ThemeChoice';
import { useDrafts } from './useDraftInHand';
import { useNow } from './useNow';
import { useRefresh } from './useWorkspace';

interface Props {
  readonly slug: string;
  readonly state: WorkspaceState | undefined;
}

/** The table of contents: pages, leaders, and the figure of what wants attention there. */
export function Index({ slug, state }: Props) {
  const [params] = useSearchParams();
  const drafts = useDrafts(slug);
  const draft = params.get('draft');
  const query = draft === null ? '' : `?draft=${draft}`;
  const open = useFindingCount(slug, state?.head.commit).data?.open;
  const [isOpen, setOpen] = useState(false);
  const { pathname } = useLocation();
  const groups = indexGroups(state, {
    findings: open,
    drafts: drafts.data?.length,
  });
  const here = groups
    .flatMap((group) => group.lines)
    .find(({ to }) => pathname.split('/')[3] === to);
  return (
    <nav
      aria-label="Contents"
      className="border-rule-strong px-4 pt-3 pb-2 max-fold:border-b-3 max-fold:[border-bottom-style:double] fold:flex fold:min-h-screen fold:flex-col fold:gap-3 fold:overflow-y-auto fold:border-r-3 fold:pt-5 fold:[border-right-style:double]"
    >
      <div className="flex items-baseline justify-between gap-3 fold:block">
        <div className="min-w-0 max-fold:flex max-fold:items-baseline max-fold:gap-2">
          <Link to="/" className="font-serif text-[19px]/[22px] font-bold tracking-[-0.01em]">
            Deep Ledger
          </Link>
          <p className="truncate text-sm text-ink-2">{state?.name ?? slug}</p>
        </div>
        <button
          type="button"
          aria-expanded={isOpen}
          aria-controls="index-pages"
          onClick={() => setOpen(!isOpen)}
          className="py-1 font-semibold whitespace-nowrap fold:hidden"
        >
          {here?.text ?? 'Pages'}{' '}
          <span className="text-sm font-normal text-ink-2">{isOpen ? 'fold away' : 'pages'}</span>
        </button>
      </div>
      <div
        id="index-pages"
        onClick={() => setOpen(false)}
        className={`flex-col gap-1.5 max-fold:pb-2 fold:flex ${isOpen ? 'flex' : 'max-fold:hidden'}`}
      >
        {groups.map(({ title, lines: pages }) => (
          <div key={title}>
            <h2 className="pt-1 font-serif text-sm text-ink-2 italic">{title}</h2>
            <ul>
              {pages.map((line) => (
                <li key={line.to}>
                  <Page line={line} to={`/w/${slug}/${line.to}${query}`} />
                </li>
              ))}
            </ul>
          </div>
        ))}
      </div>
      {state !== undefined && <Foot slug={slug} state={state} />}
    </nav>
  );
}

interface PageProps {
  readonly line: IndexLine;
  readonly to: string;
}

function Page({ line: { text, figure }, to }: PageProps) {
  return (
    <NavLink
      to={to}
      title={figure?.says}
      className={({ isActive }) =>
        `relative flex items-baseline py-0.5 hover:text-ink max-fold:py-1 ${isActive ? 'font-semibold text-ink before:absolute before:top-1 before:-left-4 before:h-4 before:w-[3px] before:bg-agreed max-fold:before:hidden' : 'text-ink-2'}`
      }
    >
      {text}
      <span
        aria-hidden
        className="mx-1.5 flex-1 -translate-y-1 border-b border-dotted border-ink-3"
      />
      {figure !== null && (
        <span
          className={`font-mono text-sm ${figure.isOff ? 'font-semibold text-off' : 'text-ink'}`}
          aria-label={figure.says}
        >
          {figure.text}
        </span>
      )}
    </NavLink>
  );
}

function Foot({ slug, state }: { readonly slug: string; readonly state: WorkspaceState }) {
  const now = useNow();
  const refresh = useRefresh(slug);
  return (
    <div className="mt-auto flex flex-col text-sm text-ink-3 max-fold:hidden">
      <RunningWork slug={slug} />
      {state.bringIn !== 'needed' && <span>{count(state.projects, 'project')}</span>}
      <span className="truncate" title={`${state.head.subject} (${state.head.author})`}>
        {state.branch} at <code className="font-mono">{short(state.head.commit)}</code>
      </span>
      <span>
        read {ago(state.readAt, now)} ·{' '}
        <PlainButton
          disabled={refresh.isPending}
          onClick={() => refresh.mutate()}
          className="underline decoration-rule-strong underline-offset-3"
        >
          {refresh.isPending ? 'reading' : 'read now'}
        </PlainButton>
      </span>
      <SignedIn />
      <ThemeChoice />
    </div>
  );
}
