import { useRef, useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import type { Archives } from '../api/client';
import { isTyping } from '../frame/is-typing';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import { useNow } from '../frame/useNow';
import { useWindowKey } from '../frame/useWindowKey';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { ago, count, day } from '../parts/words';
import { EditorButton } from '../session/EditorButton';
import { ArchiveTable } from './ArchiveTable';
import { headingOf, LINES, roomOf, viewOf, type Shown } from './archives-view';
import { ClearUnused } from './ClearUnused';
import { MirrorUse } from './MirrorUse';
import { useArchives, useCheckArchives } from './useArchives';

/** Is all that the lockfiles name kept and sound, and what is no longer used? */
export function ArchivesPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  // Not from the address: letters that come quickly would be lost.
  const [search, setSearch] = useState(params.get('find') ?? '');
  const view = { ...viewOf(params), search };
  const archives = useArchives(slug, state?.head.commit, view);
  const check = useCheckArchives(slug);
  const field = useRef<HTMLInputElement>(null);
  const { data } = archives;

  useWindowKey((event) => {
    if (event.key !== '/' || isTyping(event.target)) return;
    event.preventDefault();
    field.current?.focus();
  });

  return (
    <>
      <PageHead title="Archives" state={state}>
        {data === undefined ? 'Reading what is kept.' : headingOf(data)}
      </PageHead>
      {archives.isError && (
        <ErrorNotice error={archives.error} onRetry={() => void archives.refetch()} />
      )}
      {check.isError && <ErrorNotice error={check.error} />}
      {data !== undefined && !data.isOn && (
        <Notice kind="word" title="The mirror is off">
          <p>
            <code className="font-mono">DEEP_LEDGER_ARCHIVES_MIB</code> is 0 on this server.
            Machines fetch from the registries.
          </p>
        </Notice>
      )}
      {data?.isOn === true && (
        <>
          <Checked archives={data} />
          <div className="flex flex-wrap items-center gap-2.5 pt-2 pb-2.5">
            <input
              ref={field}
              type="search"
              value={search}
              onChange={({ target }) => {
                setSearch(target.value);
                change({ find: target.value, skip: null });
              }}
              placeholder="Find a package  /"
              aria-label="Find a package"
              className="h-[30px] w-[210px] rounded-sm border border-rule-strong bg-leaf px-2"
            />
            <Choice<Shown>
              label="Which archives"
              value={view.show}
              options={[
                { value: 'all', text: 'all' },
                { value: 'missing', text: `not kept ${data.missing}` },
                { value: 'gone', text: `gone from the registry ${data.gone}` },
                { value: 'unused', text: `unused ${data.unused}` },
              ]}
              onChange={(show) => change({ show: show === 'all' ? null : show, skip: null })}
            />
            <span className="ml-auto flex gap-2">
              <EditorButton
                look="quiet"
                disabled={check.isPending}
                title="Hashes everything that is kept, and fetches what is missing"
                onClick={() => check.mutate()}
              >
                Check all now
              </EditorButton>
              <ClearUnused slug={slug} archives={data} />
            </span>
          </div>
          <ArchiveTable archives={data} show={view.show} search={search} />
          <Pages
            skip={view.skip}
            archives={data}
            onGo={(skip) => change({ skip: skip === 0 ? null : String(skip) })}
          />
          <MirrorUse slug={slug} />
        </>
      )}
    </>
  );
}

/** When all of it was hashed, and how much room it takes. */
function Checked({ archives }: { readonly archives: Archives }) {
  const now = useNow();
  const { checkedSince, lookedAt, isUpToDate, unsound } = archives;
  return (
    <p className="text-sm text-ink-2">
      {checkedSince !== null && `All that is kept was checked since ${day(checkedSince)}. `}
      {lookedAt !== null && `Lockfiles gone through ${ago(lookedAt, now)}. `}
      {!isUpToDate && lookedAt !== null && 'They are being gone through again. '}
      {unsound > 0 && (
        <span className="text-off">
          {count(unsound, 'archive')} did not hold at the last check, and{' '}
          {unsound === 1 ? 'was' : 'were'} fetched again.{' '}
        </span>
      )}
      {roomOf(archives)}
    </p>
  );
}

interface PagesProps {
  readonly skip: number;
  readonly archives: Archives;
  readonly onGo: (skip: number) => void;
}

/** Goes from one page of lines to the next. */
function Pages({ skip, archives: { lines, matching }, onGo }: PagesProps) {
  if (matching <= LINES && skip === 0) return null;
  return (
    <p className="flex items-baseline gap-3 py-2 text-sm text-ink-2">
      {lines.length === 0
        ? 'Nothing from here on'
        : `Lines ${skip + 1} to ${skip + lines.length} of ${matching}`}
      <Button look="text" disabled={skip === 0} onClick={() => onGo(Math.max(0, skip - LINES))}>
        back
      </Button>
      <Button
        look="text"
        disabled={skip + lines.length >= matching}
        onClick={() => onGo(skip + LINES)}
      >
        on
      </Button>
    </p>
  );
}
