import type { KeyboardEvent } from 'react';
import type { SheetRow } from '../api/client';
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
  readonly row: SheetRow;
  readonly after: RowAfter | undefined;
  readonly isBanded: boolean;
  readonly isOpen: boolean;
  readonly isSelected: boolean;
  readonly onSelect: (isSelected: boolean) => void;
  readonly onToggle: () => void;
  readonly onKeyDown: (event: KeyboardEvent<HTMLTableRowElement>) => void;
}

export function SheetLine(props: Props) {
  const { row, after, isBanded, isOpen, isSelected, onSelect, onToggle, onKeyDown } = props;
  const { name, summary, agreed, usedBy, off, copies, exceptions } = row;
  const ground = isOpen ? 'bg-agreed-wash' : isBanded ? 'bg-bar' : '';
  return (
    <tr
      data-package={name}
      tabIndex={0}
      aria-expanded={isOpen}
      aria-controls={isOpen ? `bench-${name}` : undefined}
      onClick={onToggle}
      onKeyDown={onKeyDown}
      className={`h-[33px] cursor-pointer border-b ${isOpen ? 'border-transparent' : 'border-rule'} ${ground} focus-visible:outline-offset-[-2px]`}
    >
      <td className="pl-2" onClick={(event) => event.stopPropagation()}>
        <input
          type="checkbox"
          tabIndex={-1}
          className="accent-agreed align-middle"
          aria-label={`Select ${name}`}
          checked={isSelected}
          onChange={(event) => onSelect(event.target.checked)}
        />
      </td>
      <th scope="row" title={summary} className="truncate px-2 text-left font-semibold">
        {name}
      </th>
      <td className="px-2 font-mono text-[13px] whitespace-nowrap">
        <Agreed agreed={agreed} isLevel={off === 0} after={after?.agreed} />
        {exceptions > 0 && (
          <sup
            className="ml-0.5 text-ink-2"
            title={`${count(exceptions, 'project departs', 'projects depart')} by leave`}
          >
            †
          </sup>
        )}
      </td>
      <td className="px-2 max-fold:hidden">
        <Rail row={row} />
      </td>
      <td className="px-2 text-right font-mono text-[13px] max-fold:hidden">{usedBy}</td>
      <td className="px-2 text-right font-mono text-[13px] whitespace-nowrap">
        <Off count={off} />
        {after !== undefined && after.off !== off && (
          <span className="pencilled ml-1">{after.off === 0 ? '–' : `(${after.off})`}</span>
        )}
      </td>
      <td className="px-2 text-right font-mono text-[13px] whitespace-nowrap">
        {copies}
        {after !== undefined && after.copies !== copies && (
          <span className="pencilled ml-1">{after.copies}</span>
        )}
      </td>
    </tr>
  );
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
