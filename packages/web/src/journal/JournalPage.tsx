import { useQuery } from '@tanstack/react-query';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api } from '../api/client';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { count, day } from '../parts/words';
import { JournalLine } from './JournalLine';

/** What did change, when, and by whom. */
export function JournalPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params, setParams] = useSearchParams();
  const posts = useQuery({
    queryKey: ['posts', slug],
    queryFn: ({ signal }) =>
      answer(api.GET('/api/workspaces/{slug}/posts', { params: { path: { slug } }, signal })),
  });
  const list = posts.data ?? [];
  const open = params.get('post');
  const toggle = (commit: string): void => {
    setParams(
      (old) => {
        const next = new URLSearchParams(old);
        if (open === commit) next.delete('post');
        else next.set('post', commit);
        return next;
      },
      { replace: true },
    );
  };
  const last = list[0];
  return (
    <>
      <PageHead title="Journal" state={state}>
        {posts.data === undefined
          ? 'Reading the posts.'
          : last === undefined
            ? 'Nothing has been posted from here yet.'
            : `${count(list.length, 'post')}, the last on ${day(last.postedAt)} by ${last.authorName}.`}
      </PageHead>
      {posts.isError && <ErrorNotice error={posts.error} onRetry={() => void posts.refetch()} />}
      {posts.isSuccess && last === undefined && (
        <p className="rule-double-top bg-leaf px-3 py-8 text-center text-ink-2">
          A draft that is posted stands here with its commit, what it changed, and who posted it.
        </p>
      )}
      {last !== undefined && (
        <table className="rule-double-top w-full border-collapse bg-leaf">
          <thead>
            <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
              <th scope="col" className="px-2 py-1.5 font-medium w-[138px]">
                Posted
              </th>
              <th scope="col" className="px-2 py-1.5 font-medium w-[76px]">
                Commit
              </th>
              <th scope="col" className="px-2 py-1.5 font-medium">
                Message
              </th>
              <th scope="col" className="px-2 py-1.5 font-medium max-fold:hidden w-[110px]">
                By
              </th>
              <th
                scope="col"
                className="px-2 py-1.5 text-right font-medium max-fold:hidden w-[96px]"
              >
                Out of line
              </th>
              <th
                scope="col"
                className="px-2 py-1.5 text-right font-medium max-fold:hidden w-[86px]"
              >
                Copies
              </th>
            </tr>
          </thead>
          <tbody>
            {list.map((post, i) => (
              <JournalLine
                key={post.id}
                post={post}
                isBanded={Math.floor(i / 2) % 2 === 0}
                isOpen={open === post.commit}
                onToggle={() => toggle(post.commit)}
              />
            ))}
          </tbody>
        </table>
      )}
    </>
  );
}
