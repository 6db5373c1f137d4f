import { BOX_HEIGHT, type PlacedNode } from './trace-layout';

const MIDDLE = BOX_HEIGHT / 2;

/**
 * The box that an arrow key leads to: up and down within a column, left and right to the nearest height in the next column
 * that has boxes; null: there is none. O(boxes).
 * @param from where one stands; null: outside, every key leads to the first box
 */
export function nextBox(
  nodes: readonly PlacedNode[],
  from: PlacedNode | null,
  key: 'ArrowUp' | 'ArrowDown' | 'ArrowLeft' | 'ArrowRight',
): PlacedNode | null {
  if (from === null) return nodes[0] ?? null;
  const middle = from.y + MIDDLE;
  if (key === 'ArrowUp' || key === 'ArrowDown') {
    const way = key === 'ArrowUp' ? -1 : 1;
    return nearest(
      nodes.filter(({ column, y }) => column === from.column && way * (y - from.y) > 0),
      middle,
    );
  }
  const way = key === 'ArrowLeft' ? -1 : 1;
  const beyond = nodes.filter(({ column }) => way * (column - from.column) > 0);
  const column = way * Math.min(...beyond.map((node) => way * node.column));
  return nearest(
    beyond.filter((node) => node.column === column),
    middle,
  );
}

function nearest(nodes: readonly PlacedNode[], height: number): PlacedNode | null {
  return nodes.reduce<PlacedNode | null>(
    (best, node) =>
      best === null || Math.abs(node.y + MIDDLE - height) < Math.abs(best.y + MIDDLE - height)
        ? node
        : best,
    null,
  );
}
