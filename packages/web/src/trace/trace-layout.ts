import type { TraceLink, TraceNode } from '../api/client';
import type { PencilledTrace, PencilLine } from './pencilled-trace';

export const BOX_HEIGHT = 22;
const ROW_HEIGHT = 28;
const HEAD_HEIGHT = 26;
const SIDE = 8;
/** Between columns: as wide as the frame lets it be. */
const NARROWEST_GAP = 30;
const WIDEST_GAP = 110;
const LETTER = 6.6;
const FIGURE = 7;
const NARROWEST = 60;
const WIDEST = 220;

/** A node with its place, in units of the drawing. */
export interface PlacedNode extends TraceNode {
  readonly index: number;
  readonly x: number;
  readonly y: number;
  readonly width: number;
}

export interface PlacedLink extends TraceLink {
  readonly path: string;
  readonly thickness: number;
}

export interface PlacedLine extends PencilLine {
  readonly path: string;
}

export interface TraceLayout {
  readonly width: number;
  readonly height: number;
  readonly nodes: readonly PlacedNode[];
  readonly links: readonly PlacedLink[];
  readonly lines: readonly PlacedLine[];
  /** Left edges of the columns. */
  readonly heads: readonly { readonly x: number; readonly column: number }[];
}

function widthOf({ name, version }: TraceNode): number {
  const text = name.length * LETTER + (version === null ? 0 : version.length * FIGURE + 8) + 16;
  return Math.min(WIDEST, Math.max(NARROWEST, text));
}

/**
 * Places columns side by side, each with its nodes spread over the height of the fullest.
 * @param frameWidth what there is room for without making it smaller
 */
export function layTrace(trace: Omit<PencilledTrace, 'marks'>, frameWidth: number): TraceLayout {
  const columns = Array.from({ length: trace.columns }, (_, column) =>
    trace.nodes
      .map((node, index) => ({ node, index }))
      .filter(({ node }) => node.column === column)
      .sort((a, b) => a.node.row - b.node.row),
  );
  const fullest = Math.max(1, ...columns.map((list) => list.length));
  const height = HEAD_HEIGHT + fullest * ROW_HEIGHT + SIDE;
  const placed: PlacedNode[] = [];
  const heads: { x: number; column: number }[] = [];
  const widths = columns.map((list) =>
    Math.max(NARROWEST, ...list.map(({ node }) => widthOf(node))),
  );
  const room = frameWidth - 2 * SIDE - widths.reduce((sum, width) => sum + width, 0);
  const gap = Math.min(WIDEST_GAP, Math.max(NARROWEST_GAP, room / Math.max(1, columns.length - 1)));
  let x = SIDE;
  columns.forEach((list, column) => {
    heads.push({ x, column });
    const width = widths[column]!;
    const step = (height - HEAD_HEIGHT - SIDE) / Math.max(1, list.length);
    list.forEach(({ node, index }, i) => {
      const y = HEAD_HEIGHT + step * (i + 0.5) - BOX_HEIGHT / 2;
      placed.push({ ...node, index, x, y, width });
    });
    x += width + gap;
  });
  const byIndex = new Map(placed.map((node) => [node.index, node]));
  return {
    width: Math.max(x - gap + SIDE, 320),
    height,
    nodes: placed,
    links: linksOf(trace.links, byIndex),
    lines: trace.lines.map((line) => ({
      ...line,
      path: curve(byIndex.get(line.from)!, byIndex.get(line.to)!),
    })),
    heads,
  };
}

const THINNEST = 1;
const THICKEST = 9;

/** The more chains, the wider: by the logarithm, since numbers of chains differ a thousandfold. */
function linksOf(
  links: readonly TraceLink[],
  nodes: ReadonlyMap<number, PlacedNode>,
): readonly PlacedLink[] {
  const most = Math.log(1 + Math.max(1, ...links.map(({ chains }) => chains)));
  return links.flatMap((link): PlacedLink[] => {
    const from = nodes.get(link.from);
    const to = nodes.get(link.to);
    if (from === undefined || to === undefined) return [];
    const share = Math.log(1 + link.chains) / most;
    const thickness = THINNEST + share * (THICKEST - THINNEST);
    return [{ ...link, path: curve(from, to), thickness }];
  });
}

function curve(from: PlacedNode, to: PlacedNode): string {
  const y1 = from.y + BOX_HEIGHT / 2;
  const y2 = to.y + BOX_HEIGHT / 2;
  const x1 = from.x + from.width;
  // Within a cycle a link goes back: out of the right side and into the right side.
  const isBack = to.column <= from.column;
  const x2 = isBack ? to.x + to.width : to.x;
  const bend = isBack ? 34 : Math.max(24, (x2 - x1) / 2);
  const end = isBack ? x2 + bend : x2 - bend;
  return `M${x1} ${y1}C${x1 + bend} ${y1} ${end} ${y2} ${x2} ${y2}`;
}
