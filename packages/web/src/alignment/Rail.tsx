import type { AlignmentRow } from '../api/client';
import { railScale, spreadApart } from './rail-scale';
import { railWords } from './rail-words';

/** The drawing's own units are larger than the page's. */
const SCALE = 1.2;
const INSET = 9;
const MIDDLE = 13;

/** Blue ink only where something is agreed. */
const LOOKS = {
  off: { box: 'fill-off-wash stroke-off', figure: 'fill-off' },
  open: { box: 'fill-leaf stroke-ink-2', figure: 'fill-ink' },
  agreed: { box: 'fill-agreed stroke-agreed', figure: 'fill-leaf' },
} as const;

interface Props {
  readonly row: AlignmentRow;
  /** Of its column, in pixels. */
  readonly width: number;
}

/** A package's releases in order along a line, with where its projects stand and how far its ranges reach. */
export function Rail({ row, width: pixels }: Props) {
  const length = pixels / SCALE;
  const { releases, marks, reaches, newest, pin, agreed } = row;
  const index = new Map(releases.map(({ version }, i) => [version, i]));
  const { positions, divides } = railScale(releases.map(({ version }) => version));
  const along = (position: number): number => INSET + position * (length - 2 * INSET);
  const xAt = (i: number): number => along(positions[i] ?? 0);
  const xOf = (version: string): number => xAt(index.get(version) ?? 0);
  const pills = marks.flatMap(({ version, inLine, off }) => [
    ...(inLine > 0 ? [{ version, count: inLine, isOff: false }] : []),
    ...(off > 0 ? [{ version, count: off, isOff: true }] : []),
  ]);
  const ofCopies = marks.filter(({ inLine, off }) => inLine + off === 0);
  const placed = pills.map(({ version, count }) => ({
    x: xOf(version),
    width: 13 + 5 * (String(count).length - 1) + Math.min(count, 12) * 0.5,
  }));
  const xs = spreadApart(placed, length);
  const stand = pills.findLastIndex(({ isOff }) => !isOff);
  const lookOf = (isOff: boolean): keyof typeof LOOKS =>
    isOff ? 'off' : agreed === null ? 'open' : 'agreed';
  return (
    <svg
      viewBox={`0 0 ${length} 26`}
      width={pixels}
      height={26 * SCALE}
      className="block"
      role="img"
      aria-label={railWords(row)}
    >
      <line x1={0} x2={length} y1={MIDDLE} y2={MIDDLE} className="stroke-rule-strong" />
      {divides.map((at) => (
        <line key={at} x1={along(at)} x2={along(at)} y1={7} y2={19} className="stroke-ink-3" />
      ))}
      {reaches.map(({ range, span, isOff }) =>
        span === null ? null : (
          <line
            key={range}
            x1={xAt(span.first) - 3}
            x2={xAt(span.last) + 3}
            y1={isOff ? 22.5 : MIDDLE}
            y2={isOff ? 22.5 : MIDDLE}
            className={
              isOff
                ? 'stroke-off opacity-35'
                : agreed === null
                  ? 'stroke-ink-3 opacity-40'
                  : 'stroke-agreed opacity-40'
            }
            strokeWidth={isOff ? 1.5 : 4}
          />
        ),
      )}
      {ofCopies.map(({ version }) => (
        <circle key={version} cx={xOf(version)} cy={MIDDLE} r={3} className="fill-ink-3">
          <title>{`a copy of ${version}, which only copies ask for`}</title>
        </circle>
      ))}
      {newest !== null && (
        <circle cx={xOf(newest)} cy={MIDDLE} r={3.4} className="fill-leaf stroke-ink" />
      )}
      {pin !== null && index.has(pin) && (
        <path
          d={`M${xOf(pin) - 9} ${MIDDLE}H${xOf(pin) + 10}M${xOf(pin) + 10} 5V21`}
          className="fill-none stroke-ink"
          strokeWidth={1.5}
        />
      )}
      {agreed !== null && stand >= 0 && (
        <path
          d={`M${xs[stand]} 1V25M${xs[stand]! - 3} 1h6M${xs[stand]! - 3} 25h6`}
          className="fill-none stroke-agreed"
          strokeWidth={1.5}
        />
      )}
      {pills.map(({ version, count, isOff }, i) => {
        const { width } = placed[i]!;
        return (
          <g key={`${version} ${isOff}`}>
            <title>{`${count} at ${version}${isOff ? ', out of line' : ''}`}</title>
            <rect
              x={xs[i]! - width / 2}
              y={6.5}
              width={width}
              height={13}
              rx={6.5}
              className={LOOKS[lookOf(isOff)].box}
            />
            <text
              x={xs[i]}
              y={16.6}
              textAnchor="middle"
              className={`font-mono text-[10px] font-semibold ${LOOKS[lookOf(isOff)].figure}`}
            >
              {count}
            </text>
          </g>
        );
      })}
    </svg>
  );
}
