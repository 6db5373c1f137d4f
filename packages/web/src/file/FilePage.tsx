import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useEffect, useRef } from 'react';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { TextLink } from '../parts/TextLink';
import { count, short } from '../parts/words';

/** What does this file say there, at that commit? */
export function FilePage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const path = params.get('path') ?? '';
  const at = params.get('at') ?? state?.head.commit;
  const line = Math.max(1, Number(params.get('line')) || 1);
  const file = useQuery({
    queryKey: keys.file(slug, path, at, line),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/file', {
          params: { path: { slug }, query: { path, line, ...(at === undefined ? {} : { at }) } },
          signal,
        }),
      ),
    enabled: at !== undefined,
    placeholderData: keepPreviousData,
  });
  const addressOf = (to: number): string => {
    const next = new URLSearchParams(params);
    next.set('line', String(to));
    return `/w/${slug}/file?${next.toString()}`;
  };
  const { data } = file;
  const asked = useRef<HTMLTableRowElement>(null);
  useEffect(() => {
    asked.current?.scrollIntoView({ block: 'center' });
  }, [data, line]);
  const last = data === undefined ? 0 : data.firstLine + data.lines.length - 1;
  return (
    <>
      <PageHead title={path.split('/').at(-1) ?? path} state={state}>
        {data === undefined ? (
          'Reading the file.'
        ) : (
          <>
            <code className="font-mono text-sm">{path}</code>, {count(data.totalLines, 'line')}, at{' '}
            <code className="font-mono text-sm">{short(data.commit)}</code>: {data.subject}.
          </>
        )}
      </PageHead>
      {file.isError && <ErrorNotice error={file.error} onRetry={() => void file.refetch()} />}
      {data !== undefined && !file.isError && (
        <div className="rule-double-top bg-leaf">
          {data.firstLine > 1 && (
            <p className="border-b border-rule px-2 py-1 text-sm">
              <TextLink to={addressOf(data.firstLine - 1)}>Lines before {data.firstLine}</TextLink>
            </p>
          )}
          <div
            tabIndex={0}
            role="region"
            aria-label={`Text of ${path}`}
            className="overflow-x-auto"
          >
            <table className="min-w-full border-collapse font-mono text-sm">
              <tbody>
                {data.lines.map((text, i) => {
                  const number = data.firstLine + i;
                  const isHere = number === line && params.has('line');
                  return (
                    <tr
                      key={number}
                      ref={isHere ? asked : null}
                      aria-current={isHere ? 'location' : undefined}
                      className={isHere ? 'bg-agreed-wash text-agreed' : ''}
                    >
                      <td className="w-12 min-w-12 px-2 text-right text-xs text-ink-3 select-none">
                        {number}
                      </td>
                      <td className="w-3 min-w-3 select-none">{isHere ? '›' : ''}</td>
                      <td className="pr-3 whitespace-pre">{text === '' ? ' ' : text}</td>
                    </tr>
                  );
                })}
              </tbody>
            </table>
          </div>
          {last < data.totalLines && (
            <p className="border-t border-rule px-2 py-1 text-sm">
              <TextLink to={addressOf(last + 1)}>Lines after {last}</TextLink>
            </p>
          )}
        </div>
      )}
    </>
  );
}
