import type { UpgradeRow } from '../api/client';
import { marksWords, releaseMarks, type ReleaseMark, type Trials } from './upgrade-view';

interface Props {
  readonly row: UpgradeRow;
  readonly trials: Trials;
  readonly today: string;
  /** The version that is chosen; null: none. */
  readonly chosen: string | null;
}

const HEIGHT = 34;
/** Of the width, in per cent. */
const LEFT = 2;
const RIGHT = 98;
const FLOOR = HEIGHT - 6;
const LANE = 7;

const across = (x: number): string => `${(LEFT + x * (RIGHT - LEFT)).toFixed(2)}%`;
const up = (lane: number): number => FLOOR - lane * LANE;

/** The line under the marks: along each lane to the mark that leaves it, then up. */
function steps(marks: readonly ReleaseMark[]) {
  const lines: { x1: number; y1: number; x2: number; y2: number }[] = [];
  let [x, lane] = [0, 0];
  for (const mark of marks) {
    if (mark.lane <= lane) continue;
    lines.push({ x1: x, y1: up(lane), x2: mark.x, y2: up(lane) });
    lines.push({ x1: mark.x, y1: up(lane), x2: mark.x, y2: up(mark.lane) });
    [x, lane] = [mark.x, mark.lane];
  }
  return [...lines, { x1: x, y1: up(lane), x2: 1, y2: up(lane) }];
}

/** What came since the release in use: across, time up to today; upwards, patch, minor and major. */
export function ReleaseSteps({ row, trials, today, chosen }: Props) {
  const marks = releaseMarks(row, trials, today);
  return (
    <svg
      className="block h-[34px] w-full overflow-visible"
      role="img"
      aria-label={marksWords(row, trials)}
    >
      <line x1={across(0)} y1={FLOOR} x2={across(1)} y2={FLOOR} className="stroke-rule" />
      {steps(marks).map(({ x1, y1, x2, y2 }) => (
        <line
          key={`${x1} ${y1} ${y2}`}
          x1={across(x1)}
          y1={y1}
          x2={across(x2)}
          y2={y2}
          className="stroke-rule-strong"
        />
      ))}
      <circle cx={across(0)} cy={FLOOR} r={3} className="fill-ink" />
      {marks.map((mark) => (
        <Mark key={mark.version} mark={mark} isChosen={mark.version === chosen} />
      ))}
    </svg>
  );
}

function Mark({ mark, isChosen }: { readonly mark: ReleaseMark; readonly isChosen: boolean }) {
  const [x, y] = [across(mark.x), up(mark.lane)];
  const title = <title>{mark.version}</title>;
  switch (mark.look) {
    case 'good':
      return (
        <g>
          {title}
          <circle cx={x} cy={y} r={4} className="fill-agreed" />
          {isChosen && <circle cx={x} cy={y} r={6.5} className="fill-none stroke-agreed" />}
        </g>
      );
    case 'bad':
      return (
        <svg x={x} y={y} className="overflow-visible">
          {title}
          <path
            d="M -3.5 -3.5 l 7 7 m 0 -7 l -7 7"
            className="fill-none stroke-off"
            strokeWidth={2}
          />
        </svg>
      );
    case 'offer':
      return (
        <circle cx={x} cy={y} r={3.5} className="fill-leaf stroke-agreed">
          {title}
        </circle>
      );
    case 'shut':
      return (
        <circle cx={x} cy={y} r={3.5} strokeDasharray="2 1.5" className="fill-leaf stroke-ink-3">
          {title}
        </circle>
      );
    case 'passed':
      return (
        <circle cx={x} cy={y} r={2} className="fill-ink-3">
          {title}
        </circle>
      );
  }
}
