import { useId } from 'react';
import {
  CartesianGrid,
  Line,
  LineChart,
  ReferenceDot,
  ResponsiveContainer,
  Tooltip,
  XAxis,
  YAxis,
} from 'recharts';
import { day } from './words';

export interface TrendPoint {
  readonly at: string;
  /** Null: nothing is known of it. */
  readonly value: number | null;
  readonly label: string;
}

interface Props {
  readonly title: string;
  readonly unit: string;
  /** Oldest first. */
  readonly points: readonly TrendPoint[];
}

const DAY_OF_MONTH = new Intl.DateTimeFormat('en-GB', { day: 'numeric', month: 'short' });
/** Shorter than this, several ticks would name the same month. */
const SHORT_MS = 200 * 86_400_000;
const MONTH = new Intl.DateTimeFormat('en-GB', { month: 'short', year: '2-digit' });

/** One figure at each commit, along the days. */
export function TrendChart({ title, unit, points }: Props) {
  const id = useId();
  const data = points.map(({ at, value, label }) => ({ at: Date.parse(at), value, label }));
  const known = data.flatMap(({ at, value }) => (value === null ? [] : [{ at, value }]));
  const last = known.at(-1);
  const first = known[0];
  const isShort = (data.at(-1)?.at ?? 0) - (data[0]?.at ?? 0) < SHORT_MS;
  return (
    <figure aria-labelledby={id}>
      <figcaption id={id} className="flex items-baseline justify-between pb-1">
        <span className="font-semibold">{title}</span>
        <span className="font-mono text-sm">
          {last === undefined ? '' : `${last.value} ${unit}`}
        </span>
      </figcaption>
      <div aria-hidden className="h-[112px]">
        <ResponsiveContainer
          width="100%"
          height="100%"
          initialDimension={{ width: 340, height: 112 }}
        >
          <LineChart
            accessibilityLayer={false}
            data={data}
            margin={{ top: 4, right: 8, bottom: 0, left: -22 }}
          >
            <CartesianGrid stroke="var(--rule)" vertical={false} />
            <XAxis
              dataKey="at"
              type="number"
              scale="time"
              domain={['dataMin', 'dataMax']}
              tickFormatter={(at: number) => (isShort ? DAY_OF_MONTH : MONTH).format(at)}
              minTickGap={24}
              tick={{ fontSize: 11, fill: 'var(--ink-2)' }}
              stroke="var(--rule-strong)"
              tickCount={5}
            />
            <YAxis
              allowDecimals={false}
              domain={[0, 'auto']}
              tick={{ fontSize: 11, fill: 'var(--ink-2)' }}
              stroke="var(--rule-strong)"
              tickCount={4}
              interval={0}
            />
            <Tooltip
              isAnimationActive={false}
              contentStyle={{
                background: 'var(--leaf)',
                border: '1px solid var(--rule-strong)',
                borderRadius: 3,
                fontSize: 12,
              }}
              labelFormatter={(_, [entry]) =>
                entry === undefined
                  ? ''
                  : `${day(new Date((entry.payload as { at: number }).at).toISOString())}: ${(entry.payload as { label: string }).label}`
              }
              formatter={(shown) => [`${String(shown)} ${unit}`, '']}
              separator=""
            />
            <Line
              type="stepAfter"
              dataKey="value"
              stroke="var(--agreed)"
              strokeWidth={1.75}
              dot={false}
              isAnimationActive={false}
            />
            {last !== undefined && (
              <ReferenceDot x={last.at} y={last.value} r={3} fill="var(--agreed)" stroke="none" />
            )}
          </LineChart>
        </ResponsiveContainer>
      </div>
      <p className="sr-only">
        {first === undefined || last === undefined
          ? 'Nothing is known yet.'
          : `${first.value} ${unit} on ${day(new Date(first.at).toISOString())}, ${last.value} on ${day(new Date(last.at).toISOString())}.`}
      </p>
    </figure>
  );
}
