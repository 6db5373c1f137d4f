import { useWindowVirtualizer } from '@tanstack/react-virtual';
import {
  useEffect,
  useEffectEvent,
  useLayoutEffect,
  useRef,
  useState,
  type KeyboardEvent,
} from 'react';
import type { Lock, LockCopy } from '../api/client';
import { bytes, day, short } from '../parts/words';
import { CopyDetail } from './CopyDetail';
import { broughtBy } from './lock-view';

interface Props {
  readonly slug: string;
  readonly lock: Lock;
  readonly copies: readonly LockCopy[];
  /** Name and version of the copy that is open. */
  readonly open: string | null;
  readonly onOpen: (key: string | null) => void;
}

const LINE =
  'grid grid-cols-[minmax(0,1fr)_96px_70px_96px_minmax(0,1.5fr)_62px] items-center gap-x-2 px-2 max-fold:grid-cols-[minmax(0,1fr)_90px_70px]';
const WIDE = 'max-fold:hidden';

/** All copies. Only the lines in sight are in the document, and some around them. */
export function CopyTable({ slug, lock, copies, open, onOpen }: Props) {
  const box = useRef<HTMLDivElement>(null);
  const [top, setTop] = useState(0);
  useLayoutEffect(() => {
    const found = box.current?.getBoundingClientRect();
    if (found !== undefined) setTop(found.top + window.scrollY);
  }, [copies.length]);
  // It is read while drawing and handed on to nobody.
  // oxlint-disable-next-line react/incompatible-library
  const virtualizer = useWindowVirtualizer({
    count: copies.length,
    estimateSize: () => 33,
    getItemKey: (i) => keyOf(copies[i]!),
    overscan: 8,
    scrollMargin: top,
  });
  const opened = copies.findIndex((copy) => keyOf(copy) === open);
  const bringIntoSight = useEffectEvent(() => {
    if (opened >= 0) virtualizer.scrollToIndex(opened, { align: 'auto' });
  });
  useEffect(() => bringIntoSight(), [open, top]);
  const onKeyDown = (event: KeyboardEvent): void => {
    const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
    const lines = [...(box.current?.querySelectorAll<HTMLElement>('button[data-copy]') ?? [])];
    const at = lines.indexOf(event.target as HTMLElement);
    if (step === undefined || at < 0) return;
    event.preventDefault();
    lines[at + step]?.focus();
  };
  return (
    <div className="rule-double-top bg-leaf">
      <div className={`${LINE} border-b border-rule-strong py-1.5 text-sm font-medium text-ink-2`}>
        <span>Package</span>
        <span>Release</span>
        <span className="text-right">Demands</span>
        <span className={WIDE}>Here since</span>
        <span className={WIDE}>Brought by</span>
        <span className={`${WIDE} text-right`}>Size</span>
      </div>
      <div
        ref={box}
        role="list"
        aria-label="Copies"
        onKeyDown={onKeyDown}
        className="relative"
        style={{ height: virtualizer.getTotalSize() }}
      >
        {virtualizer.getVirtualItems().map(({ index, key, start }) => {
          const copy = copies[index]!;
          const brought = broughtBy(lock, copy);
          const isOpen = open === keyOf(copy);
          return (
            <div
              key={key}
              ref={virtualizer.measureElement}
              data-index={index}
              role="listitem"
              className={`absolute inset-x-0 border-b border-rule ${Math.floor(index / 2) % 2 === 0 ? '' : 'bg-bar'}`}
              style={{ transform: `translateY(${start - top}px)` }}
            >
              <button
                type="button"
                data-copy={keyOf(copy)}
                aria-expanded={isOpen}
                onClick={() => onOpen(isOpen ? null : keyOf(copy))}
                className={`${LINE} h-[32px] w-full text-left focus-visible:outline-offset-[-2px]`}
              >
                <span className="truncate">
                  {copy.name}
                  {copy.isDeprecated && <span className="text-sm text-off"> deprecated</span>}
                </span>
                <span className="truncate font-mono text-sm">
                  {copy.version}
                  {copy.isOneOfSeveral && <span title="one of several copies"> ≠</span>}
                </span>
                <span className="text-right font-mono text-sm">{copy.demands}</span>
                <span className={`${WIDE} text-sm whitespace-nowrap text-ink-2`}>
                  {brought === null ? '' : day(brought.at)}
                </span>
                <span className={`${WIDE} truncate text-sm text-ink-2`}>
                  {brought !== null && (
                    <>
                      <code className="font-mono">{short(brought.commit)}</code> {brought.subject}
                    </>
                  )}
                </span>
                <span className={`${WIDE} text-right font-mono text-sm text-ink-2`}>
                  {bytes(copy.bytes)}
                </span>
              </button>
              {isOpen && (
                <div className="border-t border-dotted border-rule-strong bg-leaf px-2 py-2">
                  <CopyDetail slug={slug} commit={lock.commit} copy={copy} brought={brought} />
                </div>
              )}
            </div>
          );
        })}
      </div>
      {copies.length === 0 && <p className="px-2 py-6 text-center text-ink-2">No copy matches.</p>}
    </div>
  );
}

export function keyOf({ name, version }: Pick<LockCopy, 'name' | 'version'>): string {
  return `${name} ${version}`;
}
