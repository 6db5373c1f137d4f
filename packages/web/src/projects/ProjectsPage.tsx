import { useState } from 'react';
import { Link, useOutletContext, useSearchParams } from 'react-router';
import { PageHead } from '../frame/PageHead';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { ErrorNotice } from '../parts/ErrorNotice';
import { Off } from '../parts/Off';
import { HeadCell } from '../parts/HeadCell';
import { count } from '../parts/words';
import { useNames } from '../alignment/useNames';
import { folderPath } from '../parts/folder-path';

/** All projects, those with most out of line first. */
export function ProjectsPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const [query, setQuery] = useState('');
  const names = useNames(slug, state?.head.commit);
  const lines = [...(names.data?.projects ?? [])].sort(
    (a, b) => b.off - a.off || a.name.localeCompare(b.name),
  );
  const off = lines.filter((line) => line.off > 0).length;
  const shown = lines.filter(({ name, folder }) =>
    `${name} ${folder}`.toLowerCase().includes(query.toLowerCase()),
  );
  const draft = params.get('draft');
  const suffix = draft === null ? '' : `?draft=${draft}`;
  return (
    <>
      <PageHead title="Projects" state={state}>
        {names.data === undefined ? (
          'Reading the workspace.'
        ) : (
          <>
            {count(lines.length, 'project')}.{' '}
            {off === 0 ? (
              <span className="level text-agreed">All are in line.</span>
            ) : (
              <span className="text-off">
                {off} {off === 1 ? 'has' : 'have'} something out of line.
              </span>
            )}
          </>
        )}
      </PageHead>
      {names.isError && <ErrorNotice error={names.error} onRetry={() => void names.refetch()} />}
      <input
        type="search"
        value={query}
        onChange={(event) => setQuery(event.target.value)}
        placeholder="Find a project"
        aria-label="Find a project"
        className="mb-2.5 h-[30px] w-[220px] rounded-sm border border-rule-strong bg-leaf px-2.5"
      />
      <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
        <thead>
          <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
            <HeadCell>Project</HeadCell>
            <HeadCell className="max-fold:hidden">Folder</HeadCell>
            <HeadCell className="w-[100px] text-right max-fold:w-[76px]">Requires</HeadCell>
            <HeadCell
              className="w-[120px] text-right max-fold:w-[78px]"
              title="Requirements that take the shared version"
            >
              Take the shared
            </HeadCell>
            <HeadCell className="w-[80px] text-right max-fold:w-[52px]">Off</HeadCell>
          </tr>
        </thead>
        <tbody>
          {shown.map((line, i) => (
            <tr
              key={line.folder}
              className={`h-[33px] border-b border-rule ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
            >
              <th scope="row" className="truncate px-2 text-left font-semibold">
                <Link
                  className="hover:underline"
                  to={`/w/${slug}/projects/${folderPath(line.folder)}${suffix}`}
                >
                  {line.name}
                </Link>
                {line.exceptions > 0 && (
                  <sup className="ml-0.5 text-ink-2" title={count(line.exceptions, 'exception')}>
                    †
                  </sup>
                )}
              </th>
              <td className="truncate px-2 font-mono text-sm text-ink-2 max-fold:hidden">
                {line.folder}
              </td>
              <td className="px-2 text-right font-mono text-[13px]">{line.requirements}</td>
              <td className="px-2 text-right font-mono text-[13px]">{line.takes}</td>
              <td className="px-2 text-right font-mono text-[13px]">
                <Off count={line.off} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {names.isSuccess && shown.length === 0 && (
        <p className="bg-leaf px-2 py-8 text-center text-ink-2">No project has this name.</p>
      )}
    </>
  );
}
