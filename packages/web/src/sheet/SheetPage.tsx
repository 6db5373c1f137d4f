import { useRef, useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { isTyping } from '../frame/is-typing';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { useDraft } from '../draft/useDraft';
import { Choice } from '../parts/Choice';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count } from '../parts/words';
import { sheetCsv } from './sheet-csv';
import { filterRows, groupRows, type Show } from './sheet-groups';
import { SheetTable } from './SheetTable';
import { useSheet } from './useSheet';
import { useWindowKey } from '../frame/useWindowKey';

/** Which shared packages are out of line, how far, and what would level them. */
export function SheetPage() {
  const { slug, state, draftId } = useOutletContext<FrameContext>();
  const [params, setParams] = useSearchParams();
  const sheet = useSheet(slug, state?.head.commit);
  const draft = useDraft(slug, draftId, state?.head.commit);
  const search = useRef<HTMLInputElement>(null);
  const show = showOf(params.get('show'));
  const [query, setQuery] = useState(params.get('q') ?? '');
  const open = params.get('open');
  const rows = sheet.data?.rows ?? [];
  const out = rows.filter(({ off }) => off > 0).length;

  const change = (values: Readonly<Record<string, string | null>>): void => {
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        for (const [key, value] of Object.entries(values)) {
          if (value === null || value === '') next.delete(key);
          else next.set(key, value);
        }
        return next;
      },
      { replace: true },
    );
  };

  // The field is ahead of the address: keys come faster than the address changes.
  const find = (text: string): void => {
    setQuery(text);
    change({ q: text });
  };

  useWindowKey((event) => {
    if (event.key !== '/' || isTyping(event.target)) return;
    event.preventDefault();
    search.current?.focus();
  });

  const shown = filterRows(rows, show, query);
  const after = new Map(draft.data?.evaluation.consequences?.rows.map((row) => [row.name, row]));
  return (
    <>
      <PageHead title="Sheet" state={state}>
        {sheet.data === undefined ? (
          'Reading the workspace.'
        ) : (
          <>
            {count(rows.length, 'package')} {rows.length === 1 ? 'is' : 'are'} required by two or
            more projects.{' '}
            {out === 0 ? (
              <span className="level text-agreed">All are level.</span>
            ) : (
              <span className="text-off">
                {out} {out === 1 ? 'is' : 'are'} out of line.
              </span>
            )}
          </>
        )}
      </PageHead>
      <div className="flex flex-wrap items-center gap-2 pb-2.5">
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
          className="h-[30px] w-[220px] rounded-sm border border-rule-strong bg-leaf px-2.5"
        />
        <Choice
          label="Which packages"
          value={show}
          onChange={(value) => change({ show: value === 'all' ? null : value })}
          options={[
            { value: 'all', text: `All ${rows.length}` },
            { value: 'out', text: `Out of line ${out}` },
            { value: 'level', text: `In line ${rows.length - out}` },
          ]}
        />
        <span className="ml-auto text-sm text-ink-2 max-fold:hidden">
          most off first ·{' '}
          <a
            className="underline decoration-rule-strong underline-offset-3"
            href={`data:text/csv;charset=utf-8,${encodeURIComponent(sheetCsv(shown))}`}
            download={`${slug}-sheet.csv`}
          >
            save as CSV
          </a>
        </span>
      </div>
      {sheet.isError && <ErrorNotice error={sheet.error} onRetry={() => void sheet.refetch()} />}
      <SheetTable
        groups={groupRows(shown)}
        after={after}
        open={open}
        isLoading={sheet.isPending && !sheet.isError}
        isFiltered={rows.length > 0}
        onOpen={(name) => change({ open: name, at: null })}
        onClear={() => {
          setQuery('');
          change({ q: null, show: null });
        }}
      />
    </>
  );
}

function showOf(text: string | null): Show {
  return text === 'out' || text === 'level' ? text : 'all';
}
