import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Navigate, useLocation } from 'react-router';
import { answer, api, type WorkspaceSummary } from '../api/client';
import { keys } from '../api/keys';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { HeadCell } from '../parts/HeadCell';
import { Notice } from '../parts/Notice';
import { usePageTitle } from '../parts/usePageTitle';
import { isFreshSignIn } from '../session/fresh-sign-in';
import { useIs } from '../session/useSession';
import { OpenForm } from './OpenForm';
import { WorkspaceLine } from './WorkspaceLine';

type Closed = Pick<WorkspaceSummary, 'slug' | 'name' | 'address' | 'branch'>;

/** The workspaces that are open, how each stands, and the way to open another. */
export function FrontPage() {
  const queries = useQueryClient();
  const mayKeep = useIs('keeper');
  usePageTitle();
  const list = useQuery({
    queryKey: keys.workspaces(),
    queryFn: ({ signal }) => answer(api.GET('/api/workspaces', { signal })),
  });
  const close = useMutation({
    mutationFn: ({ slug }: Closed) =>
      answer(api.DELETE('/api/workspaces/{slug}', { params: { path: { slug } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: keys.workspaces() }),
  });
  const reopen = useMutation({
    mutationFn: ({ address, branch }: Closed) =>
      answer(api.POST('/api/workspaces', { body: { address, branch } })),
    onSuccess: () => {
      close.reset();
      return queries.invalidateQueries({ queryKey: keys.workspaces() });
    },
  });
  const rows = list.data ?? [];
  const { state } = useLocation();
  const [only] = rows;
  if (isFreshSignIn(state) && rows.length === 1)
    return <Navigate to={`/w/${only!.slug}/overview`} replace />;
  return (
    <main className="mx-auto max-w-[1180px] px-5 pt-10 pb-16">
      <h1 className="font-serif text-title font-bold tracking-[-0.015em]">Deep Ledger</h1>
      <p className="mb-6 text-ink-2">
        One ledger for the package versions of a repository of many projects.
      </p>
      {list.isError && <ErrorNotice error={list.error} onRetry={() => void list.refetch()} />}
      {close.isError && <ErrorNotice error={close.error} />}
      {reopen.isError && <ErrorNotice error={reopen.error} />}
      {close.isSuccess && (
        <Notice kind="word" title={`${close.variables.name} is closed`}>
          Its drafts and journal are kept.{' '}
          <Button
            look="text"
            disabled={reopen.isPending}
            onClick={() => reopen.mutate(close.variables)}
          >
            Open it again
          </Button>
        </Notice>
      )}
      <table className="rule-double-top w-full border-collapse bg-leaf max-fold:block">
        <thead className="max-fold:hidden">
          <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
            <HeadCell>Workspace</HeadCell>
            <HeadCell className="w-[84px] text-right">Out of line</HeadCell>
            <HeadCell className="w-[190px]">Findings</HeadCell>
            <HeadCell className="w-[104px]">Lockfile</HeadCell>
            <HeadCell className="w-[170px]">Last post</HeadCell>
            <HeadCell
              className="w-[70px] text-right"
              title="Machines and build runs on another lockfile"
            >
              Behind
            </HeadCell>
            <HeadCell className="w-[60px]" />
          </tr>
        </thead>
        <tbody className="max-fold:block">
          {rows.map((workspace) => (
            <WorkspaceLine
              key={workspace.slug}
              workspace={workspace}
              onClose={mayKeep ? () => close.mutate(workspace) : null}
            />
          ))}
          {list.isSuccess && rows.length === 0 && (
            <tr>
              <td colSpan={7} className="px-3 py-6 text-ink-2">
                No workspace is open yet.{mayKeep ? ' Open one below.' : ' A keeper opens one.'}
              </td>
            </tr>
          )}
        </tbody>
      </table>
      {mayKeep && <OpenForm />}
    </main>
  );
}
