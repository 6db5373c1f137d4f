import { memo } from 'react';
import type { AlignmentRow } from '../api/client';
import { Off } from '../parts/Off';
import { count } from '../parts/words';
import { Rail } from './Rail';

/** A row's figures with the draft in hand. */
export interface RowAfter {
  readonly agreed: string | null;
  readonly off: number;
  readonly copies: number;
}

interface Props {
  readonly row: AlignmentRow;
  readonly after: RowAfter | undefined;
  /** Where it stands below the table's head. */
  readonly top: number;
  readonly isBanded: boolean;
  readonly isOpen: boolean;
  readonly isSelected: boolean;
  /** Its place among all lines, from 2: the head is the first. */
  readonly index: number;
  readonly railWidth: number;
}

/** The columns of a line: box, package, agreed, spread, in use, newest, used by, off, copies; fewer where it is narrow. */
export const LINE =
  'grid grid-cols-[30px_minmax(0,1fr)_86px_58px_62px] items-center fold:grid-cols-[30px_150px_108px_minmax(0,1fr)_66px_60px_66px] @min-[900px]:grid-cols-[30px_150px_108px_minmax(0,1fr)_92px_76px_70px_60px_66px]';

/** Columns that are there where the page has room. */
export const WHERE_WIDE = 'hidden @min-[900px]:block';

/** One package as it stands; the table listens for it. */
export const AlignmentLine = memo(function AlignmentLine({
  row,
  after,
  top,
  isBanded,
  isOpen,
  isSelected,
  index,
  railWidth,
}: Props) {
  const { name, summary, agreed, usedBy, off, copies, exceptions } = row;
  const ground = isOpen ? 'bg-agreed-wash' : isBanded ? 'bg-bar' : '';
  return (
    <tr
      data-package={name}
      tabIndex={0}
      aria-expanded={isOpen}
      aria-controls={isOpen ? `panel-${name}` : undefined}
      role="row"
      aria-rowindex={index}
      style={{ transform: `translateY(${top}px)` }}
      className={`${LINE} absolute h-[34px] w-full cursor-pointer border-b [contain:content] ${isOpen ? 'border-transparent' : 'border-rule'} ${ground} focus-visible:outline-offset-[-2px]`}
    >
      <td role="gridcell" className="pl-2">
        <input
          type="checkbox"
          tabIndex={-1}
          className="accent-agreed align-middle"
          aria-label={`Select ${name}`}
          checked={isSelected}
          readOnly
        />
      </td>
      <th role="rowheader" title={summary} className="truncate px-2 text-left font-semibold">
        {name}
      </th>
      <td role="gridcell" className="px-2 font-mono text-[13px] whitespace-nowrap">
        <Agreed agreed={agreed} isLevel={off === 0} after={after?.agreed} />
        {exceptions > 0 && (
          <sup className="ml-0.5 text-ink-2" title={`${count(exceptions, 'project')} by exception`}>
            †
          </sup>
        )}
      </td>
      <td role="gridcell" className="px-2 max-fold:hidden">
        <Rail row={row} width={railWidth} />
      </td>
      <td role="gridcell" className={`truncate px-2 font-mono text-[13px] ${WHERE_WIDE}`}>
        <InUse marks={row.marks} />
      </td>
      <td
        role="gridcell"
        className={`truncate px-2 font-mono text-[13px] text-ink-2 ${WHERE_WIDE}`}
      >
        {row.newest ?? '–'}
      </td>
      <td role="gridcell" className="px-2 text-right font-mono text-[13px] max-fold:hidden">
        {usedBy}
      </td>
      <td role="gridcell" className="px-2 text-right font-mono text-[13px] whitespace-nowrap">
        <Off count={off} />
        {after !== undefined && after.off !== off && (
          <span className="pencilled ml-1">{after.off === 0 ? '–' : `(${after.off})`}</span>
        )}
      </td>
      <td role="gridcell" className="px-2 text-right font-mono text-[13px] whitespace-nowrap">
        {copies}
        {after !== undefined && after.copies !== copies && (
          <span className="pencilled ml-1">{after.copies}</span>
        )}
      </td>
    </tr>
  );
});

/** The version that most requirements stand at, and how many others there are. */
function InUse({ marks }: Pick<AlignmentRow, 'marks'>) {
  const most = mostUsed(marks);
  if (most === null) return '–';
  const all = marks.map(({ version }) => version).join(', ');
  return (
    <span title={marks.length === 1 ? undefined : `in use: ${all}`}>
      {most}
      {marks.length > 1 && <span className="text-ink-2"> +{marks.length - 1}</span>}
    </span>
  );
}

/** The version with most requirements, of equals the newest. @param marks ascending */
export function mostUsed(marks: AlignmentRow['marks']): string | null {
  const most = marks.reduce<AlignmentRow['marks'][number] | undefined>(
    (best, one) =>
      best === undefined || one.inLine + one.off >= best.inLine + best.off ? one : best,
    undefined,
  );
  return most?.version ?? null;
}

function Agreed({
  agreed,
  isLevel,
  after,
}: {
  readonly agreed: string | null;
  readonly isLevel: boolean;
  readonly after: string | null | undefined;
}) {
  if (after !== undefined && after !== null && after !== agreed) {
    return (
      <span
        className="pencilled"
        title={agreed === null ? 'newly agreed, in pencil' : `now ${agreed}`}
      >
        {after}
      </span>
    );
  }
  if (agreed === null) return <span className="text-ink-3 italic">none yet</span>;
  return <span className={isLevel ? 'level' : ''}>{agreed}</span>;
}
