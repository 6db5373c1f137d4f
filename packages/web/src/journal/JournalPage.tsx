import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api, type JournalEntry } from '../api/client';
import { keys } from '../api/keys';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { Button } from '../parts/Button';
import { Choice } from '../parts/Choice';
import { ErrorNotice } from '../parts/ErrorNotice';
import { HeadCell } from '../parts/HeadCell';
import { count, day } from '../parts/words';
import { CompareForm } from './CompareForm';
import { JournalLine } from './JournalLine';

const PAGE = 100;

/** What did change, when, and by whom: posts, and what was committed outside. */
export function JournalPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const [show, setShow] = useState<'all' | 'posts' | 'outside'>('all');
  const journal = useInfiniteQuery({
    queryKey: keys.journal(slug, state?.head.commit),
    queryFn: ({ signal, pageParam }) =>
      answer(
        api.GET('/api/workspaces/{slug}/journal', {
          params: { path: { slug }, query: { skip: pageParam } },
          signal,
        }),
      ),
    initialPageParam: 0,
    getNextPageParam: (last, pages) => (last.hasMore ? pages.length * PAGE : undefined),
    enabled: state !== undefined,
  });
  const entries = journal.data?.pages.flatMap((page) => page.entries) ?? [];
  const list = entries.filter(
    ({ post }) => show === 'all' || (show === 'posts') === (post !== null),
  );
  const open = params.get('post');
  return (
    <>
      <PageHead title="Journal" state={state}>
        {journal.data === undefined ? 'Reading the history.' : headingOf(entries)}
      </PageHead>
      {journal.isError && (
        <ErrorNotice error={journal.error} onRetry={() => void journal.refetch()} />
      )}
      <div className="flex flex-wrap items-end gap-3 pb-2.5">
        <Choice
          label="Which entries"
          value={show}
          onChange={setShow}
          options={[
            { value: 'all', text: 'All' },
            { value: 'posts', text: 'Posts' },
            { value: 'outside', text: 'From outside' },
          ]}
        />
        <CompareForm
          from={params.get('from')}
          to={params.get('to')}
          branch={state?.branch ?? ''}
          onCompare={(from, to) => change({ from, to })}
        />
      </div>
      {journal.isSuccess && list.length === 0 && (
        <p className="rule-double-top bg-leaf px-3 py-8 text-center text-ink-2">
          {show === 'posts'
            ? 'Nothing has been posted from here yet. A draft that is posted stands here with its commit.'
            : 'No commit has touched a manifest or the lockfile.'}
        </p>
      )}
      {list.length > 0 && (
        <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
          <thead>
            <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
              <HeadCell className="w-[138px]">When</HeadCell>
              <HeadCell className="w-[76px]">Commit</HeadCell>
              <HeadCell>Message</HeadCell>
              <HeadCell className="w-[110px] max-fold:hidden">By</HeadCell>
              <HeadCell className="w-[96px] text-right max-fold:hidden">Out of line</HeadCell>
              <HeadCell className="w-[86px] text-right max-fold:hidden">Copies</HeadCell>
            </tr>
          </thead>
          <tbody>
            {list.map((entry, i) => (
              <JournalLine
                key={entry.commit}
                entry={entry}
                isBanded={Math.floor(i / 2) % 2 === 0}
                isOpen={open === entry.commit}
                onToggle={() => change({ post: open === entry.commit ? null : entry.commit })}
              />
            ))}
          </tbody>
        </table>
      )}
      {journal.hasNextPage && (
        <Button
          look="quiet"
          className="mt-3"
          disabled={journal.isFetchingNextPage}
          onClick={() => void journal.fetchNextPage()}
        >
          {journal.isFetchingNextPage ? 'Reading' : 'Show older ones'}
        </Button>
      )}
    </>
  );
}

function headingOf(entries: readonly JournalEntry[]): string {
  const [last] = entries;
  if (last === undefined) return 'No commit has touched a manifest or the lockfile.';
  const posts = entries.filter(({ post }) => post !== null).length;
  return `${count(posts, 'post')} and ${count(entries.length - posts, 'commit')} from outside, the last on ${day(last.at)} by ${last.author}.`;
}
