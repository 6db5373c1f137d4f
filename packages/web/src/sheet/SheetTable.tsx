import { Fragment, useRef, type KeyboardEvent } from 'react';
import type { SheetRow } from '../api/client';
import { Bench } from '../bench/Bench';
import { useIsFolded } from '../frame/useIsFolded';
import { Button } from '../parts/Button';
import { SheetLine, type RowAfter } from './SheetLine';
import type { SheetGroup } from './sheet-groups';

interface Props {
  readonly groups: readonly SheetGroup[];
  /** How the rows come out with the draft in hand. */
  readonly after: ReadonlyMap<string, RowAfter>;
  readonly open: string | null;
  readonly isLoading: boolean;
  readonly isFiltered: boolean;
  readonly onOpen: (name: string | null) => void;
  readonly onClear: () => void;
}

const HEADS = [
  { text: 'Package', className: 'fold:w-[150px]' },
  { text: 'Agreed', className: 'w-[86px] fold:w-[112px]' },
  { text: 'Spread across projects', className: 'max-fold:hidden' },
  { text: 'Used by', className: 'w-[64px] text-right max-fold:hidden' },
  { text: 'Off', className: 'w-[58px] text-right fold:w-[76px]' },
  { text: 'Copies', className: 'w-[62px] text-right fold:w-[76px]' },
];

export function SheetTable({ groups, after, open, isLoading, isFiltered, onOpen, onClear }: Props) {
  const table = useRef<HTMLTableElement>(null);
  const columns = useIsFolded() ? 4 : 6;

  const onKeyDown = (event: KeyboardEvent<HTMLTableRowElement>, row: SheetRow): void => {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'Enter' || event.key === ' ') {
      event.preventDefault();
      onOpen(open === row.name ? null : row.name);
    } else if (event.key === 'Escape' && open !== null) onOpen(null);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const lines = [...(table.current?.querySelectorAll<HTMLElement>('tr[data-package]') ?? [])];
      const step = event.key === 'ArrowDown' ? 1 : -1;
      lines[lines.indexOf(event.currentTarget) + step]?.focus();
    }
  };
  const closeBench = (name: string): void => {
    onOpen(null);
    table.current?.querySelector<HTMLElement>(`tr[data-package="${name}"]`)?.focus();
  };

  return (
    <table ref={table} className="rule-double-top w-full table-fixed border-collapse bg-leaf">
      <thead>
        <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
          {HEADS.map(({ text, className }) => (
            <th key={text} scope="col" className={`px-2 py-1.5 font-medium ${className}`}>
              {text}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {groups.map(({ title, rows }) => (
          <Fragment key={title}>
            <tr className="border-b border-rule bg-paper">
              <th
                scope="colgroup"
                colSpan={columns}
                className="h-[25px] px-2 text-left font-serif text-base font-normal text-ink-2 italic"
              >
                {title}
              </th>
            </tr>
            {rows.map((row, i) => (
              <Fragment key={row.name}>
                <SheetLine
                  row={row}
                  after={after.get(row.name)}
                  isBanded={Math.floor(i / 2) % 2 === 0}
                  isOpen={open === row.name}
                  onToggle={() => onOpen(open === row.name ? null : row.name)}
                  onKeyDown={(event) => onKeyDown(event, row)}
                />
                {open === row.name && (
                  <tr className="border-b border-rule bg-agreed-wash">
                    <td colSpan={columns} id={`bench-${row.name}`}>
                      <Bench name={row.name} onClose={() => closeBench(row.name)} />
                    </td>
                  </tr>
                )}
              </Fragment>
            ))}
          </Fragment>
        ))}
        {isLoading && <WaitingLines columns={columns} />}
        {!isLoading && groups.length === 0 && (
          <tr>
            <td colSpan={columns} className="px-2 py-8 text-center text-ink-2">
              {isFiltered ? (
                <>
                  No package is left by this filter.{' '}
                  <Button look="text" onClick={onClear}>
                    Show all
                  </Button>
                </>
              ) : (
                'No package is required by two or more projects.'
              )}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

/** Ruled lines without figures, while the first answer is on its way. */
function WaitingLines({ columns }: { readonly columns: number }) {
  return Array.from({ length: 10 }, (_, i) => (
    <tr
      key={i}
      aria-hidden
      className={`h-[33px] border-b border-rule ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
    >
      <td colSpan={columns} />
    </tr>
  ));
}
