import { useWindowVirtualizer } from '@tanstack/react-virtual';
import {
  useCallback,
  useEffect,
  useEffectEvent,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
  type MouseEvent,
  type Ref,
} from 'react';
import type { AlignmentRow } from '../api/client';
import { PackagePanel } from '../package-panel/PackagePanel';
import { NothingLeft } from './NothingLeft';
import { useWindowKey } from '../frame/useWindowKey';
import { AlignmentLine, LINE, WHERE_WIDE, type RowAfter } from './AlignmentLine';
import type { AlignmentGroup } from './alignment-view';

interface Props {
  readonly groups: readonly AlignmentGroup[];
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

/** As the tests' page, which has no layout, draws it. */
const PLAIN_RAIL = 396;
/** A rail changes its width by steps, so that dragging a window's edge does not draw all lines all the time. */
const RAIL_STEP = 12;

const HEADS = [
  { text: 'Package', className: '' },
  { text: 'Agreed', className: '' },
  { text: 'Spread across projects', className: 'max-fold:hidden', isRail: true },
  { text: 'In use', className: WHERE_WIDE },
  { text: 'Newest', className: WHERE_WIDE },
  { text: 'Used by', className: 'text-right max-fold:hidden' },
  { text: 'Off', className: 'text-right' },
  { text: 'Copies', className: 'text-right' },
];

/** A line of the table: a group's heading, a package, or the panel of the one that is open. */
type Item =
  | { readonly kind: 'title'; readonly key: string; readonly title: string }
  | {
      readonly kind: 'row';
      readonly key: string;
      readonly row: AlignmentRow;
      /** In its group. */
      readonly place: number;
      /** Its place among the table's rows; the head is the first. */
      readonly index: number;
    }
  | { readonly kind: 'panel'; readonly key: string; readonly name: string };

const HEIGHTS = { title: 26, row: 34, panel: 320 } as const;

function itemsOf(groups: readonly AlignmentGroup[], open: string | null): readonly Item[] {
  let index = 1;
  return groups.flatMap(({ title, rows }) => [
    ...(title === '' ? [] : [{ kind: 'title', key: `title ${title}`, title } as const]),
    ...rows.flatMap((row, place): Item[] => [
      { kind: 'row', key: row.name, row, place, index: (index += 1) },
      ...(row.name === open
        ? [{ kind: 'panel', key: `panel ${row.name}`, name: row.name } as const]
        : []),
    ]),
  ]);
}

/** The rails. Only the lines in sight are in the document, and some around them. */
export function AlignmentTable(props: Props) {
  const { groups, after, open, selected, isLoading, isFiltered, onOpen, onSelect, onClear } = props;
  const table = useRef<HTMLTableElement>(null);
  const [top, setTop] = useState(0);
  const [railHead, railWidth] = useRailWidth();
  const items = itemsOf(groups, open);
  const names = groups.flatMap(({ rows }) => rows.map(({ name }) => name));
  useLayoutEffect(() => {
    const box = table.current?.getBoundingClientRect();
    if (box !== undefined) setTop(box.top + window.scrollY);
  }, [isLoading]);
  // It is read while drawing and handed on to nobody.
  // oxlint-disable-next-line react/incompatible-library
  const virtualizer = useWindowVirtualizer({
    count: items.length,
    estimateSize: (i) => HEIGHTS[items[i]!.kind],
    getItemKey: (i) => items[i]!.key,
    overscan: 6,
    useFlushSync: false,
    scrollMargin: top,
  });
  const shown = virtualizer.getVirtualItems();
  const opened = items.findIndex((item) => item.kind === 'row' && item.key === open);
  const bringIntoSight = useEffectEvent(() => {
    if (opened >= 0) virtualizer.scrollToIndex(opened, { align: 'auto' });
  });
  const isThere = opened >= 0;
  useEffect(() => {
    if (isThere) bringIntoSight();
  }, [open, isThere]);

  // Listeners are on the body alone, so that a line is drawn again only when what it shows changes.
  const onClick = (event: MouseEvent): void => {
    const name = packageOf(event.target);
    if (name === null) return;
    if (event.target instanceof HTMLInputElement) onSelect([name], event.target.checked);
    else onOpen(open === name ? null : name);
  };
  const onKeyDown = (event: KeyboardEvent): void => {
    const name = packageOf(event.target);
    const line = event.target as HTMLElement;
    if (name === null || line.dataset['package'] === undefined) return;
    if (event.key === 'Enter') {
      event.preventDefault();
      onOpen(open === name ? null : name);
    } else if (event.key === ' ') {
      event.preventDefault();
      onSelect([name], !selected.has(name));
    } else if (event.key === 'Escape' && open !== null) onOpen(null);
    else if (event.key === 'ArrowDown' || event.key === 'ArrowUp') {
      event.preventDefault();
      const lines = linesOf(table.current);
      const step = event.key === 'ArrowDown' ? 1 : -1;
      lines[lines.indexOf(line) + step]?.focus();
    }
  };
  useWindowKey((event) => {
    if (event.key !== 'ArrowDown' && event.key !== 'ArrowUp') return;
    const isFindField = event.target instanceof HTMLInputElement && event.target.type === 'search';
    if (!isFindField && event.target !== document.body) return;
    const lines = linesOf(table.current);
    const line = lines.find((one) => one.dataset['package'] === open) ?? lines[0];
    if (line === undefined || (isFindField && event.key === 'ArrowUp')) return;
    event.preventDefault();
    line.focus();
  });
  const closePanel = (name: string): void => {
    onOpen(null);
    table.current?.querySelector<HTMLElement>(`tr[data-package="${name}"]`)?.focus();
  };

  // Lines are placed by themselves instead of by the table's layout, which looks at all of them for each that comes.
  return (
    <div className="@container">
      <table
        ref={table}
        role="treegrid"
        aria-label="Shared packages"
        aria-rowcount={names.length + 1}
        className="rule-double-top block w-full bg-leaf"
      >
        <thead role="rowgroup" className="block">
          <tr
            role="row"
            aria-rowindex={1}
            className={`${LINE} border-b border-rule-strong py-1.5 text-left text-sm text-ink-2`}
          >
            <th role="columnheader" className="pl-2">
              <input
                type="checkbox"
                className="accent-agreed align-middle"
                aria-label="Select all that are shown"
                disabled={names.length === 0}
                checked={names.length > 0 && names.every((name) => selected.has(name))}
                onChange={(event) => onSelect(names, event.target.checked)}
              />
            </th>
            {HEADS.map(({ text, className, isRail }) => (
              <th
                key={text}
                ref={isRail === true ? railHead : undefined}
                role="columnheader"
                className={`px-2 font-medium ${className}`}
              >
                {text}
              </th>
            ))}
          </tr>
        </thead>
        <tbody
          role="rowgroup"
          onClick={onClick}
          onKeyDown={onKeyDown}
          className="relative block"
          style={{ height: virtualizer.getTotalSize() }}
        >
          {shown.map(({ index, start }) => {
            const item = items[index]!;
            if (item.kind === 'row') {
              const { row, place } = item;
              return (
                <AlignmentLine
                  key={item.key}
                  row={row}
                  after={after.get(row.name)}
                  top={start - top}
                  isBanded={Math.floor(place / 2) % 2 === 0}
                  isOpen={open === row.name}
                  isSelected={selected.has(row.name)}
                  index={item.index}
                  railWidth={railWidth}
                />
              );
            }
            const style = { transform: `translateY(${start - top}px)` };
            return item.kind === 'title' ? (
              <tr
                key={item.key}
                role="row"
                style={style}
                className="absolute block w-full border-b border-rule bg-paper"
              >
                <th
                  role="rowheader"
                  className="block h-[25px] px-2 text-left font-serif text-base leading-[25px] font-normal text-ink-2 italic"
                >
                  {item.title}
                </th>
              </tr>
            ) : (
              <tr
                key={item.key}
                role="row"
                data-index={index}
                ref={virtualizer.measureElement}
                style={style}
                className="absolute block w-full border-b border-rule bg-agreed-wash"
              >
                <td role="gridcell" className="block" id={`panel-${item.name}`}>
                  <PackagePanel name={item.name} onClose={() => closePanel(item.name)} />
                </td>
              </tr>
            );
          })}
        </tbody>
        {isLoading && <WaitingLines />}
        {!isLoading && groups.length === 0 && (
          <tbody role="rowgroup" className="block">
            <tr role="row" className="block">
              <td role="gridcell" className="block px-2 py-8 text-center text-ink-2">
                <NothingLeft isFiltered={isFiltered} onClear={onClear} />
              </td>
            </tr>
          </tbody>
        )}
      </table>
    </div>
  );
}

function linesOf(table: HTMLTableElement | null): readonly HTMLElement[] {
  return [...(table?.querySelectorAll<HTMLElement>('tr[data-package]') ?? [])];
}

/** The width that a rail has in its column, and what the column's head is to be marked with. */
function useRailWidth(): readonly [Ref<HTMLTableCellElement>, number] {
  const [width, setWidth] = useState(PLAIN_RAIL);
  const watch = useCallback((head: HTMLTableCellElement | null) => {
    if (head === null || typeof ResizeObserver === 'undefined') return;
    const observer = new ResizeObserver(([entry]) => {
      const { inlineSize } = entry!.contentBoxSize[0]!;
      if (inlineSize > 0) setWidth(Math.floor(inlineSize / RAIL_STEP) * RAIL_STEP);
    });
    observer.observe(head);
    return () => observer.disconnect();
  }, []);
  return [watch, width];
}

/** The package whose line something is in; null: none. */
function packageOf(target: EventTarget): string | null {
  const line = target instanceof Element ? target.closest<HTMLElement>('tr[data-package]') : null;
  return line?.dataset['package'] ?? null;
}

/** Ruled lines without figures, while the first answer is on its way. */
function WaitingLines() {
  return (
    <tbody aria-hidden className="block">
      {Array.from({ length: 10 }, (_, i) => (
        <tr
          key={i}
          className={`block h-[33px] border-b border-rule ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
        />
      ))}
    </tbody>
  );
}
