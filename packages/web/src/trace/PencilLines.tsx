import type { PlacedLine } from './trace-layout';

/** Lines that would come, and those that are struck out: in pencil over the ink. */
export function PencilLines({ lines }: { readonly lines: readonly PlacedLine[] }) {
  // What is struck out blots the ink below it, and must not blot a line in pencil that begins at the same box.
  const struckFirst = [...lines].sort(
    (a, b) => Number(b.kind === 'struck') - Number(a.kind === 'struck'),
  );
  return struckFirst.map(({ from, to, kind, path }) => (
    <g key={`${kind} ${from} ${to}`} pointerEvents="none">
      {kind === 'struck' && <path d={path} fill="none" stroke="var(--leaf)" strokeWidth={10} />}
      <path
        d={path}
        fill="none"
        stroke="var(--pencil)"
        strokeWidth={1.5}
        strokeDasharray={kind === 'struck' ? '2 4' : '5 3'}
      />
    </g>
  ));
}
