import { useMutation, useQuery, useQueryClient } from '@tanstack/react-query';
import { Link } from 'react-router';
import { answer, api, type WorkspaceSummary } from '../api/client';
import { Button } from '../parts/Button';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Notice } from '../parts/Notice';
import { day } from '../parts/words';
import { OpenForm } from './OpenForm';

type Closed = Omit<WorkspaceSummary, 'openedAt'>;

/** The workspaces that are open, and the way to open another. */
export function FrontPage() {
  const queries = useQueryClient();
  const list = useQuery({
    queryKey: ['workspaces'],
    queryFn: ({ signal }) => answer(api.GET('/api/workspaces', { signal })),
  });
  const close = useMutation({
    mutationFn: ({ slug }: Closed) =>
      answer(api.DELETE('/api/workspaces/{slug}', { params: { path: { slug } } })),
    onSuccess: () => queries.invalidateQueries({ queryKey: ['workspaces'] }),
  });
  const reopen = useMutation({
    mutationFn: ({ address, branch, registry }: Closed) =>
      answer(api.POST('/api/workspaces', { body: { address, branch, registry } })),
    onSuccess: () => {
      close.reset();
      return queries.invalidateQueries({ queryKey: ['workspaces'] });
    },
  });
  const rows = list.data ?? [];
  return (
    <main className="mx-auto max-w-[860px] px-5 pt-10 pb-16">
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
      <table className="rule-double-top w-full border-collapse bg-leaf">
        <thead>
          <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
            <th className="px-3 py-1.5 font-medium">Workspace</th>
            <th className="px-3 py-1.5 font-medium">Repository and branch</th>
            <th className="px-3 py-1.5 font-medium max-fold:hidden">Opened</th>
            <th />
          </tr>
        </thead>
        <tbody>
          {rows.map(({ slug, name, address, branch, registry, openedAt }) => (
            <tr key={slug} className="border-b border-rule align-baseline">
              <td className="px-3 py-2">
                <Link
                  to={`/w/${slug}/overview`}
                  className="font-semibold text-agreed underline decoration-rule-strong underline-offset-3"
                >
                  {name}
                </Link>
              </td>
              <td className="px-3 py-2 font-mono text-sm [overflow-wrap:anywhere] text-ink-2">
                {address} <span className="text-ink">{branch}</span>
              </td>
              <td className="px-3 py-2 text-sm whitespace-nowrap text-ink-2 max-fold:hidden">
                {day(openedAt)}
              </td>
              <td className="px-3 py-2 text-right">
                <button
                  type="button"
                  className="text-sm text-ink-2 underline decoration-rule-strong underline-offset-3"
                  title="It leaves this list; its drafts and journal come back when it is opened again"
                  onClick={() => close.mutate({ slug, name, address, branch, registry })}
                >
                  close
                </button>
              </td>
            </tr>
          ))}
          {list.isSuccess && rows.length === 0 && (
            <tr>
              <td colSpan={4} className="px-3 py-6 text-ink-2">
                No workspace is open yet. Open one below.
              </td>
            </tr>
          )}
        </tbody>
      </table>
      <OpenForm />
    </main>
  );
}
