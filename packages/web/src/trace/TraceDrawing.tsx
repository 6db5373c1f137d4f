import { useEffect, useMemo, useRef, useState, type KeyboardEvent, type MouseEvent } from 'react';
import type { Trace, TraceNode } from '../api/client';
import { Button } from '../parts/Button';
import { BOX_HEIGHT, layTrace, type PlacedNode } from './trace-layout';
import { saveTrace, TRACE_FORMATS } from './trace-files';
import { TraceLinks } from './TraceLinks';
import type { PencilledTrace } from './pencilled-trace';
import { PencilLines } from './PencilLines';
import { TraceNodeBox } from './TraceNodeBox';
import { READABLE, useViewBox } from './useViewBox';
import { nextBox } from './walk-boxes';

interface Props {
  readonly trace: Trace;
  readonly title: string;
  /** The same with what is tried out. */
  readonly pencilled: PencilledTrace;
  readonly chosen: string | null;
  readonly onChoose: (id: string | null) => void;
  /** Makes another node what the trace is about. */
  readonly onOpen: (id: string) => void;
  readonly onOpenColumn: (column: number) => void;
  /** A line between two nodes that are not gathered is clicked. */
  readonly onStrike: (from: TraceNode, to: TraceNode) => void;
}

const HEIGHT = 560;
const STEP = 60;

/** The chains in columns. The chains through the chosen node stay dark, the rest grows faint. */
export function TraceDrawing(props: Props) {
  const { trace, title, pencilled, chosen, onChoose, onOpen, onOpenColumn, onStrike } = props;
  const frame = useRef<HTMLDivElement>(null);
  const svg = useRef<SVGSVGElement>(null);
  const width = useWidth(frame);
  const layout = useMemo(() => layTrace(pencilled, width), [pencilled, width]);
  const shrunk = Math.max(1 / READABLE, Math.min(1, width / layout.width));
  const height = Math.min(HEIGHT, Math.max(150, layout.height * shrunk));
  const side = trace.direction === 'up' ? 'right' : 'left';
  const view = useViewBox(layout, { width, height }, side);
  useWheel(svg, view.zoom);
  /** Boxes are walked by arrow keys, so that the drawing is one stop on the way through the page. */
  const walk = ({ target, key }: KeyboardEvent): boolean => {
    if (!isArrow(key)) return false;
    const at = (target as Element).closest<SVGElement>('[data-box]')?.dataset['box'];
    const isOf = (node: PlacedNode): boolean =>
      at === undefined ? node.id !== null && node.id === chosen : node.index === Number(at);
    const here = layout.nodes.find(isOf) ?? null;
    const next = at === undefined && here !== null ? here : nextBox(layout.nodes, here, key);
    if (next === null) return true;
    svg.current?.querySelector<SVGElement>(`[data-box="${next.index}"]`)?.focus();
    view.show({ ...next, height: BOX_HEIGHT });
    return true;
  };
  const keys = (event: KeyboardEvent): void => {
    if (!event.shiftKey && walk(event)) {
      event.preventDefault();
      return;
    }
    const action = {
      '+': () => view.zoom(1 / 1.25),
      '=': () => view.zoom(1 / 1.25),
      '-': () => view.zoom(1.25),
      '0': view.fit,
      ArrowLeft: () => view.pan(-STEP, 0),
      ArrowRight: () => view.pan(STEP, 0),
      ArrowUp: () => view.pan(0, -STEP),
      ArrowDown: () => view.pan(0, STEP),
      Escape: () => onChoose(null),
    }[event.key];
    if (action === undefined) return;
    event.preventDefault();
    action();
  };
  const strike = ({ target }: MouseEvent): void => {
    const link = layout.links[Number((target as SVGElement).dataset['link'])];
    if (link === undefined) return;
    const [owner, required] = [pencilled.nodes[link.from], pencilled.nodes[link.to]];
    if (owner?.id != null && required?.id != null) onStrike(owner, required);
  };
  return (
    <div>
      <div ref={frame} className="rule-double-top bg-leaf">
        <svg
          ref={svg}
          role="group"
          aria-label={`${title}. The same stands below as sentences.`}
          tabIndex={0}
          width="100%"
          height={height}
          viewBox={view.viewBox}
          preserveAspectRatio="xMidYMin meet"
          onKeyDown={keys}
          className="block cursor-grab touch-none active:cursor-grabbing"
          {...view.handlers}
        >
          {layout.heads.map(({ x, column }) => (
            <text
              key={column}
              x={x + 2}
              y={15}
              className="fill-ink-2 font-serif text-[12.5px] italic"
            >
              {headWords(trace, column)}
            </text>
          ))}
          <g onClick={strike} className="cursor-pointer">
            <TraceLinks links={layout.links} ends={trace.ends.length} />
          </g>
          <PencilLines lines={layout.lines} />
          {layout.nodes.map((node) => (
            <TraceNodeBox
              key={node.index}
              node={node}
              pencilled={node.id === null ? null : (pencilled.marks.get(node.id) ?? null)}
              endIndex={node.id === null ? -1 : trace.ends.indexOf(node.id)}
              ends={trace.ends.length}
              isChosen={node.id !== null && node.id === chosen}
              onChoose={() => {
                if (node.id === null) onOpenColumn(node.column);
                else onChoose(node.id === chosen ? null : node.id);
              }}
              onOpen={() => node.id !== null && onOpen(node.id)}
            />
          ))}
        </svg>
      </div>
      <p className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-rule-strong bg-leaf px-2 py-1 text-sm text-ink-2">
        <span>A line is as wide as the chains that it carries. Click one to strike it out.</span>
        <span className="ml-auto flex flex-wrap gap-x-3">
          <Button look="text" className="text-sm" onClick={() => view.zoom(1 / 1.25)}>
            Closer
          </Button>
          <Button look="text" className="text-sm" onClick={() => view.zoom(1.25)}>
            Further
          </Button>
          <Button look="text" className="text-sm" onClick={view.fit}>
            Fit
          </Button>
          {TRACE_FORMATS.map((format) => (
            <Button
              key={format}
              look="text"
              className="text-sm"
              onClick={() => void saveTrace(format, title, trace, layout, svg.current)}
            >
              Save {format}
            </Button>
          ))}
        </span>
      </p>
    </div>
  );
}

function isArrow(key: string): key is Parameters<typeof nextBox>[2] {
  return ['ArrowUp', 'ArrowDown', 'ArrowLeft', 'ArrowRight'].includes(key);
}

function headWords({ columns, subject, direction, nodes }: Trace, column: number): string {
  const isLast = column === columns - 1;
  if (subject === 'workspace') return column === 0 ? 'projects' : `step ${column}`;
  if (direction === 'down') return column === 0 ? 'from' : `step ${column}`;
  if (isLast) return nodes.find((node) => node.column === column)?.name ?? '';
  if (column === 0) return 'projects';
  return column === 1 ? 'brought by' : 'through';
}

function useWidth(frame: React.RefObject<HTMLDivElement | null>): number {
  const [width, setWidth] = useState(760);
  useEffect(() => {
    const element = frame.current;
    if (element === null) return;
    const observer = new ResizeObserver(([entry]) => {
      if (entry !== undefined) setWidth(Math.max(200, entry.contentRect.width));
    });
    observer.observe(element);
    return () => observer.disconnect();
  }, [frame]);
  return width;
}

/** React listens to wheels passively, and a passive listener cannot keep the page from scrolling. */
function useWheel(
  svg: React.RefObject<SVGSVGElement | null>,
  zoom: (by: number, at: { x: number; y: number }) => void,
): void {
  const latest = useRef(zoom);
  useEffect(() => {
    latest.current = zoom;
  });
  useEffect(() => {
    const element = svg.current;
    if (element === null) return;
    const onWheel = (event: WheelEvent): void => {
      if (!event.ctrlKey && !event.metaKey) return;
      event.preventDefault();
      const box = element.getBoundingClientRect();
      const at = { x: event.clientX - box.left, y: event.clientY - box.top };
      latest.current(event.deltaY > 0 ? 1.15 : 1 / 1.15, at);
    };
    element.addEventListener('wheel', onWheel, { passive: false });
    return () => element.removeEventListener('wheel', onWheel);
  }, [svg]);
}
