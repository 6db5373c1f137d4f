import type { PanelDemand, PanelRequirement } from '../api/client';
import { LINE, type ChartMeasures } from './chart-measures';

/** One line of the chart. */
export interface ChartLine {
  readonly key: string;
  /** Of the project; null: a copy asks. */
  readonly folder: string | null;
  readonly owner: string;
  /** Set small beside the owner. */
  readonly remark: string;
  readonly words: string;
  readonly span: PanelRequirement['span'];
  readonly copy: string | null;
  readonly look: keyof typeof LOOKS;
  readonly detail: string;
}

/** Ours in blue or red ink; what a copy asks, which no edit of ours reaches, in grey. */
const LOOKS = {
  off: {
    owner: 'fill-off font-semibold',
    bar: 'fill-off opacity-25',
    mark: 'fill-off',
    words: 'fill-off',
  },
  inLine: {
    owner: 'fill-ink font-medium',
    bar: 'fill-agreed opacity-25',
    mark: 'fill-agreed',
    words: 'fill-ink-2',
  },
  ofCopy: {
    owner: 'fill-ink-2 italic',
    bar: 'fill-ink-3 opacity-25',
    mark: 'fill-leaf stroke-ink-2',
    words: 'fill-ink-2',
  },
} as const;

export function lineOfRequirement(requirement: PanelRequirement): ChartLine {
  const { folder, project, written, range, span, copy, isOff, standing, kind, place, exception } =
    requirement;
  const detail = [
    `${project} requires ${written === 'shared' ? `the shared version ${range}` : range} (${kind})`,
    copy === null ? 'no copy in the lockfile' : `copy ${copy}`,
    exception === null
      ? ''
      : `by exception until ${exception.until}: ${exception.reason} (${exception.owner})`,
    `${place.file}:${place.line}`,
  ];
  return {
    key: `${folder} ${kind}`,
    folder,
    owner: standing === 'excepted' ? `${project} †` : project,
    remark: kind === 'runtime' ? '' : kind,
    words: written === 'shared' ? 'shared' : range,
    span,
    copy,
    look: isOff ? 'off' : 'inLine',
    detail: detail.filter(Boolean).join('\n'),
  };
}

export function lineOfDemand({ owner, range, asked, span, copy }: PanelDemand): ChartLine {
  const answered = copy === null ? 'skipped' : `copy ${copy}`;
  return {
    key: `${owner} ${range}`,
    folder: null,
    owner: asked === null ? owner : `${owner} †`,
    remark: '',
    words: range,
    span,
    copy,
    look: 'ofCopy',
    detail: `the copy ${owner} asks for ${asked === null ? range : `${asked}, and is answered as ${range}`}\n${answered}`,
  };
}

interface LineProps {
  readonly line: ChartLine;
  readonly y: number;
  readonly x: (index: number) => number;
  readonly index: ReadonlyMap<string, number>;
  readonly measures: ChartMeasures;
  /** Its manifest would change. */
  readonly isChanging: boolean;
}

export function PanelLine({
  line: { owner, remark, words, span, copy, look, detail },
  y,
  x,
  index,
  measures: { ranges, width, letters },
  isChanging,
}: LineProps) {
  const ink = LOOKS[look];
  const at = copy === null ? undefined : index.get(copy);
  const start = span === null ? null : x(span.first) - 4;
  const end = span === null ? null : x(span.last) + 4;
  return (
    <g>
      <title>{detail}</title>
      <rect x={0} y={y - LINE / 2} width={width} height={LINE} className="fill-transparent" />
      <text x={0} y={y + 4} className={`text-[12.5px] ${ink.owner}`}>
        {isChanging && <tspan className="fill-pencil italic">✎ </tspan>}
        {owner}
        {remark !== '' && <tspan className="fill-ink-2 text-[10.5px] font-normal"> {remark}</tspan>}
      </text>
      {start !== null && end !== null && (
        <rect x={start} y={y - 3.5} width={end - start} height={7} rx={1} className={ink.bar} />
      )}
      {at !== undefined && <circle cx={x(at)} cy={y} r={4.5} className={ink.mark} />}
      <text x={ranges} y={y + 4} className={`font-mono text-[11px] ${ink.words}`}>
        {words.length <= letters ? words : `${words.slice(0, letters - 1)}…`}
      </text>
    </g>
  );
}
