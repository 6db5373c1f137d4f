import { useVirtualizer } from '@tanstack/react-virtual';
import { useEffect, useRef, useState, type KeyboardEvent } from 'react';
import type { Draft, ProjectName, AlignmentCell, AlignmentRow } from '../api/client';
import { countingEdits } from '../draft/useDraft';
import { CellReason } from './CellReason';
import { NothingLeft } from './NothingLeft';
import { pencilledCells } from './pencilled-cells';

interface Props {
  readonly rows: readonly AlignmentRow[];
  readonly projects: readonly ProjectName[];
  /** Folder of the one project to show; empty: all. */
  readonly only: string;
  readonly draft: Draft | undefined;
  readonly isFiltered: boolean;
  readonly onClear: () => void;
}

const NAME = 158;
const HEAD = 112;
const WIDTH = 62;
const HEIGHT = 27;

/** Packages by projects. Only the cells in sight are in the document; arrow keys walk, Enter opens a cell's reason. */
export function AlignmentGrid({ rows, projects, only, draft, isFiltered, onClear }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [at, setAt] = useState({ row: 0, column: 0 });
  const [isOpen, setOpen] = useState(false);
  const columns = projects.flatMap((project, index) =>
    only === '' || project.folder === only ? [{ ...project, index }] : [],
  );
  // The virtualizers are read while drawing and handed on to nobody.
  const vertical = useVirtualizer({
    count: rows.length,
    getScrollElement: () => box.current,
    estimateSize: () => HEIGHT,
    paddingStart: HEAD,
    scrollPaddingStart: HEAD,
    overscan: 6,
  });
  const horizontal = useVirtualizer({
    horizontal: true,
    count: columns.length,
    getScrollElement: () => box.current,
    estimateSize: () => WIDTH,
    paddingStart: NAME,
    scrollPaddingStart: NAME,
    overscan: 4,
  });
  const row = Math.min(at.row, rows.length - 1);
  const column = Math.min(at.column, columns.length - 1);
  useEffect(() => {
    if (row < 0 || column < 0) return;
    vertical.scrollToIndex(row);
    horizontal.scrollToIndex(column);
    // The virtualizers stay the same objects.
    // oxlint-disable-next-line react/exhaustive-deps
  }, [row, column]);

  if (rows.length === 0 || columns.length === 0) {
    return (
      <p className="rule-double-top bg-leaf px-2 py-8 text-center text-ink-2">
        <NothingLeft isFiltered={isFiltered} onClear={onClear} />
      </p>
    );
  }
  const agreed = new Map(rows.map((one) => [one.name, one.agreed]));
  const pencilled = pencilledCells(countingEdits(draft), (name) => agreed.get(name) ?? null);
  const onKeyDown = (event: KeyboardEvent): void => {
    const steps: Readonly<Record<string, readonly [number, number]>> = {
      ArrowDown: [1, 0],
      ArrowUp: [-1, 0],
      ArrowRight: [0, 1],
      ArrowLeft: [0, -1],
      PageDown: [15, 0],
      PageUp: [-15, 0],
      Home: [0, -columns.length],
      End: [0, columns.length],
    };
    const step = steps[event.key];
    if (step !== undefined) {
      event.preventDefault();
      setAt({
        row: within(row + step[0], rows.length),
        column: within(column + step[1], columns.length),
      });
    } else if (event.key === 'Enter') {
      event.preventDefault();
      setOpen(true);
    }
  };
  return (
    <>
      <p className="pb-1.5 text-sm text-ink-2">
        <b className="font-semibold text-agreed">bold</b> takes the shared version ·{' '}
        <span className="text-off">(red)</span> out of line · † by exception ·{' '}
        <span className="pencilled">italic</span> in pencil
      </p>
      <div
        ref={box}
        role="grid"
        aria-label="Packages by projects"
        aria-rowcount={rows.length + 1}
        aria-colcount={columns.length + 1}
        aria-activedescendant={`cell-${row}-${column}`}
        tabIndex={0}
        onKeyDown={onKeyDown}
        className="rule-double-top relative h-[calc(100vh-200px)] min-h-[320px] overflow-auto bg-leaf focus-visible:outline-offset-[-2px]"
      >
        <div
          style={{ width: horizontal.getTotalSize(), height: vertical.getTotalSize() }}
          className="relative"
        >
          <div
            role="row"
            className="sticky top-0 z-[2] border-b border-rule-strong bg-leaf"
            style={{ height: HEAD }}
          >
            <div
              role="columnheader"
              className="sticky left-0 z-[1] flex items-end bg-leaf px-2 pb-1.5 text-sm text-ink-2"
              style={{ width: NAME, height: HEAD - 1 }}
            >
              Package
            </div>
            {horizontal.getVirtualItems().map(({ index, start }) => (
              <div
                key={index}
                role="columnheader"
                className={`absolute top-0 flex items-end justify-center pb-1.5 text-sm ${index === column ? 'font-semibold text-ink' : 'text-ink-2'}`}
                style={{ left: start, width: WIDTH, height: HEAD - 1 }}
              >
                <span
                  className="rotate-180 truncate [writing-mode:vertical-rl]"
                  title={columns[index]!.folder}
                >
                  {columns[index]!.name}
                </span>
              </div>
            ))}
          </div>
          {vertical.getVirtualItems().map((line) => {
            const one = rows[line.index]!;
            const cells = new Map(one.cells.map((cell) => [cell.project, cell]));
            return (
              <div
                key={one.name}
                role="row"
                aria-rowindex={line.index + 2}
                className={`absolute left-0 border-b border-rule ${Math.floor(line.index / 2) % 2 === 0 ? 'bg-bar' : 'bg-leaf'}`}
                style={{ top: line.start, height: HEIGHT, width: horizontal.getTotalSize() }}
              >
                <div
                  role="rowheader"
                  className={`sticky left-0 z-[1] truncate bg-inherit px-2 leading-[26px] ${line.index === row ? 'font-semibold' : ''}`}
                  style={{ width: NAME }}
                  title={one.summary}
                >
                  {one.name}
                </div>
                {horizontal.getVirtualItems().map(({ index, start }) => (
                  <GridCell
                    key={index}
                    id={`cell-${line.index}-${index}`}
                    left={start}
                    cell={cells.get(columns[index]!.index)}
                    pencilled={pencilled(one.name, columns[index]!.folder)}
                    isActive={line.index === row && index === column}
                    onOpen={() => {
                      setAt({ row: line.index, column: index });
                      setOpen(true);
                    }}
                  />
                ))}
              </div>
            );
          })}
        </div>
        {isOpen && (
          <CellReason
            name={rows[row]!.name}
            project={columns[column]!}
            onClose={() => setOpen(false)}
          />
        )}
      </div>
    </>
  );
}

function within(wanted: number, length: number): number {
  return Math.max(0, Math.min(length - 1, wanted));
}

interface CellProps {
  readonly id: string;
  readonly left: number;
  readonly cell: AlignmentCell | undefined;
  /** What it would say with the draft in hand; null: nothing else. */
  readonly pencilled: string | null;
  readonly isActive: boolean;
  readonly onOpen: () => void;
}

const INKS: Readonly<Record<AlignmentCell['standing'], string>> = {
  takes: 'font-semibold text-agreed',
  equals: 'text-agreed',
  off: 'text-off',
  excepted: 'text-ink',
  'nothing-agreed': 'text-ink-2',
};

function GridCell({ id, left, cell, pencilled, isActive, onOpen }: CellProps) {
  const version = cell === undefined ? '' : (cell.copy ?? 'none');
  return (
    <div
      id={id}
      role="gridcell"
      aria-selected={isActive}
      onClick={onOpen}
      style={{ left, width: WIDTH, height: HEIGHT - 1 }}
      className={`absolute top-0 cursor-pointer text-center font-mono text-xs leading-[26px] whitespace-nowrap ${isActive ? 'outline-2 outline-offset-[-2px] outline-agreed' : ''}`}
    >
      {pencilled !== null ? (
        <span className="pencilled" title={version === '' ? 'new' : `now ${version}`}>
          {pencilled}
        </span>
      ) : cell === undefined ? null : (
        <span className={cell.isOff ? 'text-off' : INKS[cell.standing]}>
          {cell.isOff ? `(${version})` : version}
          {cell.standing === 'excepted' && <sup>†</sup>}
        </span>
      )}
    </div>
  );
}
