import type { ArchiveLine, Archives } from '../api/client';
import { HeadCell } from '../parts/HeadCell';
import { bytes, count, day } from '../parts/words';
import type { Shown } from './archives-view';

interface Props {
  readonly archives: Archives;
  readonly show: Shown;
  /** Part of a name. */
  readonly search: string;
}

/** Said where there is no line. */
const NOTHING = {
  all: 'No lockfile names an archive.',
  missing: 'Nothing is missing.',
  gone: 'The registries still have everything.',
  unused: 'Everything that is kept is named by a lockfile.',
} as const;

/** Branches that are written out. */
const MOST = 2;

/** Archives, one a line: what wants attention is told in the last column. */
export function ArchiveTable({ archives: { lines, branches, lookedAt }, show, search }: Props) {
  return (
    <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
      <thead>
        <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
          <HeadCell className="w-[24%] max-fold:w-[40%]">Package</HeadCell>
          <HeadCell className="w-[92px] max-fold:w-[64px]">Version</HeadCell>
          <HeadCell className="w-[78px] text-right">Size</HeadCell>
          <HeadCell className="w-[96px] max-fold:hidden">Checked</HeadCell>
          <HeadCell className="max-fold:hidden">Named by</HeadCell>
          <HeadCell>What is special</HeadCell>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr
            key={line.digest}
            className="border-b border-rule align-baseline [&:nth-child(4n+3)]:bg-bar [&:nth-child(4n+4)]:bg-bar"
          >
            <td
              className="truncate px-2 py-1.5 max-fold:whitespace-normal max-fold:[overflow-wrap:anywhere]"
              title={line.name}
            >
              {line.name}
            </td>
            <td className="truncate px-2 font-mono text-sm" title={line.digest}>
              {line.version}
            </td>
            <td className="px-2 text-right text-sm whitespace-nowrap">
              {line.bytes === null ? '' : bytes(line.bytes)}
            </td>
            <td className="px-2 text-sm whitespace-nowrap text-ink-2 max-fold:hidden">
              {line.checkedAt === null ? '' : day(line.checkedAt)}
            </td>
            <td
              className="truncate px-2 text-sm text-ink-2 max-fold:hidden"
              title={line.branches.join(', ')}
            >
              {namedBy(line, branches)}
            </td>
            <td className="px-2 py-1.5 text-sm [overflow-wrap:anywhere]">
              <Special line={line} />
            </td>
          </tr>
        ))}
        {lines.length === 0 && (
          <tr>
            <td colSpan={6} className="px-2 py-4 text-ink-2">
              {search === ''
                ? lookedAt === null
                  ? 'Archives appear here as they are fetched; how far that is stands at the foot of the index.'
                  : NOTHING[show]
                : `Nothing here has “${search}” in its name.`}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

function Special({ line }: { readonly line: ArchiveLine }) {
  const { bytes: size, trouble, isGone, unusedSince } = line;
  if (size === null)
    return <span className="text-off">{trouble ?? 'Not kept yet; it is being fetched.'}</span>;
  if (unusedSince !== null)
    return <span className="text-ink-2">named by no lockfile since {day(unusedSince)}</span>;
  return isGone ? (
    <span className="text-caution">gone from its registry; kept all the same</span>
  ) : null;
}

/** @param all branches that have a lockfile */
function namedBy({ branches, elsewhere }: ArchiveLine, all: number): string {
  const own =
    branches.length > MOST && branches.length === all
      ? [`all ${all} branches`]
      : branches.length > MOST
        ? [
            ...branches.slice(0, MOST),
            count(branches.length - MOST, 'more branch', 'more branches'),
          ]
        : branches;
  const others = elsewhere === 0 ? [] : [count(elsewhere, 'other workspace')];
  return [...own, ...others].join(', ');
}
