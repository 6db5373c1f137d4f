import { useWindowVirtualizer } from '@tanstack/react-virtual';
import { useLayoutEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { SheetRow } from '../api/client';
import { Bench } from '../bench/Bench';
import { useIsFolded } from '../frame/useIsFolded';
import { Button } from '../parts/Button';
import { SheetLine, type RowAfter } from './SheetLine';
import type { SheetGroup } from './sheet-view';

interface Props {
  readonly groups: readonly SheetGroup[];
  /** How the rows come out with the draft in hand. */
  readonly after: ReadonlyMap<string, RowAfter>;
  readonly open: string | null;
  readonly selected: ReadonlySet<string>;
  readonly isLoading: boolean;
  readonly isFiltered: boolean;
  readonly onOpen: (name: string | null) => void;
  readonly onSelect: (names: readonly string[], isSelected: boolean) => void;
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

/** A line of the table: a group's heading, a package, or the bench of the one that is open. */
type Item =
  | { readonly kind: 'title'; readonly key: string; readonly title: string }
  | { readonly kind: 'row'; readonly key: string; readonly row: SheetRow; readonly place: number }
  | { readonly kind: 'bench'; readonly key: string; readonly name: string };

const HEIGHTS = { title: 26, row: 34, bench: 320 } as const;

function itemsOf(groups: readonly SheetGroup[], open: string | null): readonly Item[] {
  return groups.flatMap(({ title, rows }) => [
    ...(title === '' ? [] : [{ kind: 'title', key: `title ${title}`, title } as const]),
    ...rows.flatMap((row, place): Item[] => [
      { kind: 'row', key: row.name, row, place },
      ...(row.name === open
        ? [{ kind: 'bench', key: `bench ${row.name}`, name: row.name } as const]
        : []),
    ]),
  ]);
}

/** The rails. Only the lines in sight are in the document, and some around them. */
export function SheetTable(props: Props) {
  const { groups, after, open, selected, isLoading, isFiltered, onOpen, onSelect, onClear } = props;
  const table = useRef<HTMLTableElement>(null);
  const [top, setTop] = useState(0);
  const columns = useIsFolded() ? 5 : 7;
  const items = itemsOf(groups, open);
  const names = groups.flatMap(({ rows }) => rows.map(({ name }) => name));
  useLayoutEffect(() => {
    const box = table.current?.getBoundingClientRect();
    if (box !== undefined) setTop(box.top + window.scrollY);
  }, [isLoading]);
  const virtualizer = useWindowVirtualizer({
    count: items.length,
    estimateSize: (i) => HEIGHTS[items[i]!.kind],
    getItemKey: (i) => items[i]!.key,
    overscan: 12,
    scrollMargin: top,
  });
  const shown = virtualizer.getVirtualItems();
  const before = (shown[0]?.start ?? top) - top;
  const behind = virtualizer.getTotalSize() - ((shown.at(-1)?.end ?? top) - top);

  const onKeyDown = (event: KeyboardEvent<HTMLTableRowElement>, row: SheetRow): void => {
    if (event.target !== event.currentTarget) return;
    if (event.key === 'Enter') {
      event.preventDefault();
      onOpen(open === row.name ? null : row.name);
    } else if (event.key === ' ') {
      event.preventDefault();
      onSelect([row.name], !selected.has(row.name));
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
    <table
      ref={table}
      aria-rowcount={names.length + 1}
      className="rule-double-top w-full table-fixed border-collapse bg-leaf"
    >
      <thead>
        <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
          <th scope="col" className="w-[30px] pl-2">
            <input
              type="checkbox"
              className="accent-agreed align-middle"
              aria-label="Select all that are shown"
              disabled={names.length === 0}
              checked={names.length > 0 && names.every((name) => selected.has(name))}
              onChange={(event) => onSelect(names, event.target.checked)}
            />
          </th>
          {HEADS.map(({ text, className }) => (
            <th key={text} scope="col" className={`px-2 py-1.5 font-medium ${className}`}>
              {text}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {before > 0 && <Gap height={before} columns={columns} />}
        {shown.map(({ index }) => {
          const item = items[index]!;
          if (item.kind === 'title') {
            return (
              <tr key={item.key} data-index={index} className="border-b border-rule bg-paper">
                <th
                  scope="colgroup"
                  colSpan={columns}
                  className="h-[25px] px-2 text-left font-serif text-base font-normal text-ink-2 italic"
                >
                  {item.title}
                </th>
              </tr>
            );
          }
          if (item.kind === 'bench') {
            return (
              <tr
                key={item.key}
                data-index={index}
                ref={virtualizer.measureElement}
                className="border-b border-rule bg-agreed-wash"
              >
                <td colSpan={columns} id={`bench-${item.name}`}>
                  <Bench name={item.name} onClose={() => closeBench(item.name)} />
                </td>
              </tr>
            );
          }
          const { row, place } = item;
          return (
            <SheetLine
              key={item.key}
              row={row}
              after={after.get(row.name)}
              isBanded={Math.floor(place / 2) % 2 === 0}
              isOpen={open === row.name}
              isSelected={selected.has(row.name)}
              onSelect={(isSelected) => onSelect([row.name], isSelected)}
              onToggle={() => onOpen(open === row.name ? null : row.name)}
              onKeyDown={(event) => onKeyDown(event, row)}
            />
          );
        })}
        {behind > 0 && <Gap height={behind} columns={columns} />}
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
                'No project requires a package yet.'
              )}
            </td>
          </tr>
        )}
      </tbody>
    </table>
  );
}

/** Stands for the lines that are out of sight. */
function Gap({ height, columns }: { readonly height: number; readonly columns: number }) {
  return (
    <tr aria-hidden style={{ height }}>
      <td colSpan={columns} />
    </tr>
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
