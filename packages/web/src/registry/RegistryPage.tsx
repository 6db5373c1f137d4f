import { useRef, useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { isTyping } from '../frame/is-typing';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import { useWindowKey } from '../frame/useWindowKey';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { PlainButton } from '../parts/PlainButton';
import { count } from '../parts/words';
import { FoundList } from './FoundList';
import { News } from './News';
import { RegistryPackageView } from './RegistryPackageView';
import { useNews, useRegistryPackage, useSearch } from './useRegistry';

/** What is there, may we use it, and what would adding it bring? */
export function RegistryPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const commit = state?.head.commit;
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const field = useRef<HTMLInputElement>(null);
  const [query, setQuery] = useState(params.get('q') ?? '');
  const search = useSearch(slug, commit, query.trim());
  const open = params.get('package');
  const shown = useRegistryPackage(slug, commit, open);
  const news = useNews(slug, commit);
  const found = search.data?.found ?? [];

  useWindowKey((event) => {
    if (event.key !== '/' || isTyping(event.target)) return;
    event.preventDefault();
    field.current?.focus();
  });

  return (
    <>
      <PageHead title="Registry" state={state}>
        {search.data === undefined ? (
          'Asking the registries.'
        ) : (
          <>
            {query.trim() === '' ? 'In the registries ' : `By “${query.trim()}” `}
            <b className="font-semibold text-ink">
              {search.data.isCut ? 'more than ' : ''}
              {count(found.length, 'package')}
            </b>
            {query.trim() === ''
              ? ' to look at; type words of a name or of what it does.'
              : ' found.'}
          </>
        )}
      </PageHead>
      <div className="pb-2.5">
        <input
          ref={field}
          type="search"
          value={query}
          onChange={({ target }) => {
            setQuery(target.value);
            change({ q: target.value });
          }}
          onKeyDown={(event) => {
            if (event.key !== 'ArrowDown') return;
            event.preventDefault();
            document.querySelector<HTMLElement>('ul[aria-label="Found packages"] button')?.focus();
          }}
          placeholder="Words of a name or a summary"
          aria-label="Find a package in the registries"
          className="h-[32px] w-full max-w-[420px] rounded-sm border border-rule-strong bg-leaf px-2.5"
        />
      </div>
      {search.isError && <ErrorNotice error={search.error} onRetry={() => void search.refetch()} />}
      {search.data?.troubles.map(({ registry, says }) => (
        <Notice key={registry} kind="caution" title={`${registry} was not searched`}>
          <p>{says}</p>
        </Notice>
      ))}
      <div className="grid grid-cols-[minmax(0,1fr)_minmax(0,1fr)] items-start gap-3 max-fold:grid-cols-1">
        {search.data !== undefined && found.length === 0 ? (
          <p className="bg-leaf p-4 text-ink-2">
            No registry has a package with these words. Its whole name can be opened all the same:{' '}
            <PlainButton
              className="text-agreed underline"
              disabled={query.trim() === ''}
              onClick={() => change({ package: query.trim() })}
            >
              open {query.trim()}
            </PlainButton>
          </p>
        ) : (
          <FoundList
            found={found}
            open={open}
            hasSeveralRegistries={new Set(found.map((one) => one.registry)).size > 1}
            onOpen={(name) => change({ package: name, release: null })}
          />
        )}
        <div
          className={`sticky top-0 min-w-0 max-fold:static ${open === null ? '' : 'max-fold:order-first'}`}
        >
          {open === null ? (
            news.data !== undefined && (
              <News
                news={news.data}
                onOpen={(name, release) => change({ package: name, release })}
              />
            )
          ) : shown.isError ? (
            <ErrorNotice error={shown.error} onRetry={() => void shown.refetch()} />
          ) : shown.data === undefined ? (
            <p className="rule-double-top bg-leaf p-4 text-ink-2">Reading {open}.</p>
          ) : (
            <RegistryPackageView
              key={`${shown.data.name} ${params.get('release') ?? ''}`}
              slug={slug}
              commit={commit}
              found={shown.data}
              release={params.get('release')}
            />
          )}
        </div>
      </div>
    </>
  );
}
