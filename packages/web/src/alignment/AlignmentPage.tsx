import { lazy, Suspense, useRef, useState } from 'react';
import { useLocation, useNavigationType, useOutletContext, useSearchParams } from 'react-router';
import type { AlignmentRow, ProjectName } from '../api/client';
import { useDraft } from '../draft/useDraft';
import { isTyping } from '../frame/is-typing';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import { useWindowKey } from '../frame/useWindowKey';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Choice } from '../parts/Choice';
import { ErrorNotice } from '../parts/ErrorNotice';
import { SelectField } from '../parts/SelectField';
import { count } from '../parts/words';
import { SaveLink } from '../parts/SaveLink';
import { Selection } from './Selection';
import { AlignmentTable } from './AlignmentTable';
import { alignmentCsv } from './alignment-csv';
import {
  groupRows,
  alignmentView,
  viewOn,
  viewRows,
  type AlignmentView,
  type Sort,
} from './alignment-view';
import { useAlignment } from './useAlignment';

const AlignmentGrid = lazy(() =>
  import('./AlignmentGrid').then((module) => ({ default: module.AlignmentGrid })),
);

const NO_ROWS: readonly AlignmentRow[] = [];
const NO_PROJECTS: readonly ProjectName[] = [];

/** Which shared packages are out of line, how far, and what would level them. */
export function AlignmentPage() {
  const location = useLocation();
  const way = useNavigationType();
  const [arrival, setArrival] = useState(location.key);
  // The page writes what is typed and selected into its address, and begins from the address that it is opened with.
  if (way !== 'REPLACE' && location.key !== arrival) setArrival(location.key);
  return <AlignmentFrom key={arrival} />;
}

/** In the address, for all rows that the view shows. */
const ALL_SHOWN = '*';
/** An address does not grow without end: of more packages than these it does not say which are selected. */
const MOST_IN_ADDRESS = 50;

function AlignmentFrom() {
  const { slug, state, draftId } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const draft = useDraft(slug, draftId, state?.head.commit);
  const search = useRef<HTMLInputElement>(null);
  const inAddress = alignmentView(params);
  // Field and selection are ahead of the address: keys come faster than it changes.
  const [query, setQuery] = useState(inAddress.query);
  const needsCells = inAddress.view === 'grid' || inAddress.project !== '';
  const alignment = useAlignment(slug, state?.head.commit, inAddress.scope, needsCells);
  const view = viewOn(alignment.data, { ...inAddress, query });
  const rows = alignment.data?.rows ?? NO_ROWS;
  const projects = alignment.data?.projects ?? NO_PROJECTS;
  const [chosen, setChosen] = useState<ReadonlySet<string> | 'all'>(() =>
    params.get('sel') === ALL_SHOWN
      ? 'all'
      : new Set((params.get('sel') ?? '').split(',').filter(Boolean)),
  );
  const shown = viewRows(rows, projects, view);
  const selected = chosen === 'all' ? new Set(shown.map(({ name }) => name)) : chosen;

  const find = (text: string): void => {
    setQuery(text);
    change({ q: text });
  };
  const select = (names: readonly string[], isSelected: boolean): void => {
    const rest = [...selected].filter((name) => !names.includes(name));
    const next = new Set(isSelected ? [...rest, ...names] : rest);
    const isAll =
      next.size > 0 && shown.length === next.size && shown.every((row) => next.has(row.name));
    setChosen(isAll ? 'all' : next);
    const few = next.size <= MOST_IN_ADDRESS ? [...next].join(',') : null;
    change({ sel: isAll ? ALL_SHOWN : few });
  };

  useWindowKey((event) => {
    if (event.key !== '/' || isTyping(event.target)) return;
    event.preventDefault();
    search.current?.focus();
  });

  const clear = (): void => {
    setQuery('');
    change({ q: null, show: null, project: null, set: null });
  };
  return (
    <>
      <PageHead title="Alignment" state={state}>
        {alignment.data === undefined ? (
          'Reading the workspace.'
        ) : (
          <Heading rows={rows} view={view} />
        )}
      </PageHead>
      <div className="flex flex-wrap items-center gap-2 pb-2">
        <input
          ref={search}
          type="search"
          value={query}
          onChange={(event) => find(event.target.value)}
          onKeyDown={(event) => {
            if (event.key === 'Escape') {
              find('');
              event.currentTarget.blur();
            }
          }}
          placeholder="Find a package"
          aria-label="Find a package"
          className="h-[30px] w-[180px] rounded-sm border border-rule-strong bg-leaf px-2.5"
        />
        <Choices rows={rows} view={inAddress} onChange={change} />
        <span className="ml-auto text-sm max-fold:hidden">
          <SaveLink name={`${slug}-alignment.csv`} text={() => alignmentCsv(shown)}>
            save as CSV
          </SaveLink>
        </span>
      </div>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1.5 pb-2.5">
        <Filters rows={rows} projects={projects} view={inAddress} onChange={change} />
      </div>
      {alignment.isError && (
        <ErrorNotice error={alignment.error} onRetry={() => void alignment.refetch()} />
      )}
      {selected.size > 0 && (
        <Selection rows={rows} selected={selected} onClear={() => select([...selected], false)} />
      )}
      {view.view === 'grid' ? (
        <Suspense fallback={<p className="text-ink-2">Opening the grid.</p>}>
          <AlignmentGrid
            rows={shown}
            projects={projects}
            only={view.project}
            draft={draft.data}
            isFiltered={(alignment.data?.packages ?? 0) > 0}
            onClear={clear}
          />
        </Suspense>
      ) : (
        <AlignmentTable
          groups={groupRows(shown, view.sort)}
          after={new Map(draft.data?.evaluation.consequences?.rows.map((row) => [row.name, row]))}
          open={params.get('open')}
          selected={selected}
          isLoading={alignment.isPending && !alignment.isError}
          isFiltered={(alignment.data?.packages ?? 0) > 0}
          onOpen={(name) => change({ open: name, at: null })}
          onSelect={select}
          onClear={clear}
        />
      )}
    </>
  );
}

const SUBJECTS = {
  shared: 'required by two or more projects',
  direct: 'required by a project',
  all: 'required or in the lockfile',
} as const;

function Heading({
  rows,
  view,
}: {
  readonly rows: readonly AlignmentRow[];
  readonly view: AlignmentView;
}) {
  const out = rows.filter(({ off }) => off > 0).length;
  return (
    <>
      {count(rows.length, 'package')} {rows.length === 1 ? 'is' : 'are'} {SUBJECTS[view.scope]}.{' '}
      {out === 0 ? (
        <span className="level text-agreed">All are level.</span>
      ) : (
        <span className="text-off">
          {out} {out === 1 ? 'is' : 'are'} out of line.
        </span>
      )}
    </>
  );
}

interface ControlProps {
  readonly rows: readonly AlignmentRow[];
  readonly view: AlignmentView;
  readonly onChange: (values: Readonly<Record<string, string | null>>) => void;
}

function Choices({ rows, view, onChange }: ControlProps) {
  const out = rows.filter(({ off }) => off > 0).length;
  return (
    <>
      <Choice
        label="Which packages"
        value={view.show}
        onChange={(value) => onChange({ show: value === 'all' ? null : value })}
        options={[
          { value: 'all', text: `All ${rows.length}` },
          { value: 'out', text: `Out of line ${out}` },
          { value: 'level', text: `In line ${rows.length - out}` },
        ]}
      />
      <Choice
        label="Rails or grid"
        value={view.view}
        onChange={(value) => onChange({ view: value === 'rails' ? null : value, open: null })}
        options={[
          { value: 'rails', text: 'Rails' },
          { value: 'grid', text: 'Grid' },
        ]}
      />
    </>
  );
}

const SORT_TEXTS: Readonly<Record<Sort, string>> = {
  off: 'most off first',
  copies: 'most copies first',
  behind: 'furthest behind first',
  use: 'most used first',
  name: 'by name',
  set: 'by set',
};

function Filters({
  rows,
  projects,
  view,
  onChange,
}: ControlProps & { readonly projects: readonly ProjectName[] }) {
  const sets = [...new Set(rows.flatMap(({ set }) => set ?? []))].sort();
  return (
    <>
      <SelectField
        isInLine
        label="Packages"
        value={view.scope}
        onChange={(value) => onChange({ scope: value === 'shared' ? null : value })}
        options={[
          { value: 'shared', text: 'of two or more projects' },
          { value: 'direct', text: 'of any project' },
          { value: 'all', text: 'all with a copy' },
        ]}
      />
      <SelectField
        isInLine
        label="Project"
        value={view.project}
        onChange={(value) => onChange({ project: value })}
        options={[
          { value: '', text: 'any' },
          ...projects.map(({ folder, name }) => ({ value: folder, text: name })),
        ]}
      />
      {sets.length > 0 && (
        <SelectField
          isInLine
          label="Set"
          value={view.set}
          onChange={(value) => onChange({ set: value })}
          options={[{ value: '', text: 'any' }, ...sets.map((set) => ({ value: set, text: set }))]}
        />
      )}
      <SelectField
        isInLine
        label="Order"
        value={view.sort}
        onChange={(value) => onChange({ sort: value === 'off' ? null : value })}
        options={Object.entries(SORT_TEXTS).map(([value, text]) => ({ value, text }))}
      />
    </>
  );
}
