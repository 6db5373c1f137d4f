import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useOutletContext, useSearchParams } from 'react-router';
import { answer, api } from '../api/client';
import { keys } from '../api/keys';
import { PageHead } from '../frame/PageHead';
import { useChangeAddress } from '../frame/useChangeAddress';
import type { FrameContext } from '../frame/WorkspaceFrame';
import { csvText } from '../parts/csv';
import { ErrorNotice } from '../parts/ErrorNotice';
import { HeadCell } from '../parts/HeadCell';
import { TextLink } from '../parts/TextLink';
import { bytes, count } from '../parts/words';
import { SaveLink } from '../parts/SaveLink';
import { traceAddress } from './trace-address';

const MOST_SHOWN = 300;

/** Requirements of projects, by what leaves with each. */
export function WeightsPage() {
  const { slug, state } = useOutletContext<FrameContext>();
  const [params] = useSearchParams();
  const change = useChangeAddress();
  const weights = useQuery({
    queryKey: keys.weights(slug, state?.head.commit),
    queryFn: ({ signal }) =>
      answer(
        api.GET('/api/workspaces/{slug}/trace/weights', { params: { path: { slug } }, signal }),
      ),
    enabled: state !== undefined,
    placeholderData: keepPreviousData,
  });
  const words = params.get('q') ?? '';
  const all = weights.data?.requirements ?? [];
  const shown = all.filter(({ project, package: name }) => `${project} ${name}`.includes(words));
  const sole = all.filter(({ copies }) => copies > 0);
  return (
    <>
      <PageHead title="What leaves with each requirement" state={state}>
        {weights.data === undefined
          ? 'Weighing.'
          : `${count(sole.length, 'requirement')} of ${all.length} bring in what nothing else does; the heaviest, ${sole[0] === undefined ? 'none' : `${sole[0].package} in ${sole[0].project}, ${count(sole[0].copies, 'copy', 'copies')}`}.`}
      </PageHead>
      {weights.isError && (
        <ErrorNotice error={weights.error} onRetry={() => void weights.refetch()} />
      )}
      <div className="flex items-center gap-3 pb-2.5">
        <input
          type="search"
          aria-label="Find a requirement"
          placeholder="Find"
          value={words}
          onChange={(event) => change({ q: event.target.value })}
          className="h-[28px] w-[170px] rounded-sm border border-rule-strong bg-leaf px-2"
        />
        <span className="ml-auto text-sm">
          <SaveLink
            name={`${slug}-weights.csv`}
            text={() =>
              csvText([
                ['project', 'package', 'asks for', 'answered', 'copies', 'bytes'],
                ...shown.map((one) => [
                  one.project,
                  one.package,
                  one.written,
                  one.version,
                  String(one.copies),
                  String(one.bytes),
                ]),
              ])
            }
          >
            save as CSV
          </SaveLink>
        </span>
      </div>
      <div className="overflow-x-auto">
        <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
          <thead>
            <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
              <HeadCell className="max-fold:hidden">Project</HeadCell>
              <HeadCell>Requires</HeadCell>
              <HeadCell className="w-[120px] max-fold:hidden">Asks for</HeadCell>
              <HeadCell className="w-[80px]">Answered</HeadCell>
              <HeadCell className="w-[130px] text-right max-fold:w-[80px]">
                Copies that leave
              </HeadCell>
              <HeadCell className="w-[80px] text-right max-fold:w-[72px]">Size</HeadCell>
            </tr>
          </thead>
          <tbody>
            {shown.slice(0, MOST_SHOWN).map((one, i) => (
              <tr
                key={`${one.project} ${one.link} ${one.package}`}
                className={`border-b border-rule ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
              >
                <td className="truncate px-2 py-1 max-fold:hidden">
                  <TextLink to={traceAddress(slug, { project: one.project })}>
                    {one.project}
                  </TextLink>
                </td>
                <td className="truncate px-2">
                  <TextLink to={traceAddress(slug, { package: one.package, from: one.project })}>
                    {one.package}
                  </TextLink>
                  <span className="block truncate text-sm text-ink-2 fold:hidden">
                    {one.project}
                  </span>
                </td>
                <td className="truncate px-2 font-mono text-sm text-ink-2 max-fold:hidden">
                  {one.written}
                </td>
                <td className="px-2 font-mono text-sm">{one.version}</td>
                <td className="px-2 text-right font-mono text-sm">
                  {one.copies === 0 ? '–' : one.copies}
                </td>
                <td className="px-2 text-right font-mono text-sm">
                  {one.bytes === 0 ? '–' : bytes(one.bytes)}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </div>
      {shown.length > MOST_SHOWN && (
        <p className="pt-2 text-sm text-ink-2">
          The {MOST_SHOWN} heaviest of {shown.length}; find narrows them, the CSV has all.
        </p>
      )}
    </>
  );
}
