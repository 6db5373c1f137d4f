import type { BenchDemand, BenchRequirement, Candidate, SheetRow } from '../api/client';
import { railScale } from '../sheet/rail-scale';

interface Props {
  readonly row: SheetRow;
  readonly requirements: readonly BenchRequirement[];
  /** What copies in the lockfile ask. */
  readonly demands: readonly BenchDemand[];
  readonly candidates: readonly Candidate[];
  readonly chosen: string | null;
  readonly onChoose: (version: string) => void;
}

const LABEL = 128;
const LENGTH = 306;
const TAIL = 56;
const WIDTH = LABEL + LENGTH + TAIL;
const HEAD = 32;
const LINE = 22;

/** Every requirement on one scale: its range as a bar, its copy as a mark. Releases at the top can be chosen. */
export function BenchChart({ row, requirements, demands, candidates, chosen, onChoose }: Props) {
  const versions = row.releases.map(({ version }) => version);
  const { positions, majors, divides } = railScale(versions);
  const index = new Map(versions.map((version, i) => [version, i]));
  const along = (position: number): number => LABEL + position * LENGTH;
  const x = (i: number): number => along(positions[i] ?? 0);
  const sorted = [...requirements].sort(
    (a, b) => Number(b.isOff) - Number(a.isOff) || a.project.localeCompare(b.project),
  );
  const height = HEAD + (sorted.length + demands.length) * LINE + 6;
  const chosenIndex = chosen === null ? undefined : index.get(chosen);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${height}`}
      className="block w-full max-w-[620px]"
      role="group"
      aria-label="Requirements along the releases"
    >
      {divides.map((at) => (
        <line
          key={at}
          x1={along(at)}
          x2={along(at)}
          y1={16}
          y2={height}
          className="stroke-ink-3"
          strokeDasharray="1 3"
        />
      ))}
      {scaleLabels(versions, [0, ...majors, versions.length - 1], chosenIndex).map((i) => (
        <text
          key={i}
          x={x(i)}
          y={10}
          textAnchor={i === 0 ? 'start' : 'middle'}
          className="fill-ink-2 font-mono text-[10.5px]"
        >
          {versions[i]}
        </text>
      ))}
      {versions.map((version, i) => (
        <line
          key={version}
          x1={x(i)}
          x2={x(i)}
          y1={17}
          y2={majors.includes(i) ? 26 : 22}
          className="stroke-ink-3"
        />
      ))}
      {chosenIndex !== undefined && (
        <g>
          <text
            x={x(chosenIndex)}
            y={10}
            textAnchor="middle"
            className="fill-ink font-mono text-[10.5px] font-bold"
          >
            {chosen}
          </text>
          <line
            x1={x(chosenIndex)}
            x2={x(chosenIndex)}
            y1={14}
            y2={height - 2}
            className="stroke-pencil"
            strokeWidth={1.5}
            strokeDasharray="4 3"
          />
        </g>
      )}
      {candidates.map(({ version, isAnswered }) => {
        const i = index.get(version);
        return i === undefined ? null : (
          <g
            key={version}
            role="button"
            aria-label={`Choose ${version}`}
            onClick={() => onChoose(version)}
            className="cursor-pointer"
          >
            <rect x={x(i) - 6} y={12} width={12} height={16} className="fill-transparent" />
            <circle
              cx={x(i)}
              cy={20}
              r={3}
              className={
                version === chosen
                  ? 'fill-pencil stroke-pencil'
                  : isAnswered
                    ? 'fill-leaf stroke-ink-2'
                    : 'fill-leaf stroke-rule-strong'
              }
            />
          </g>
        );
      })}
      {sorted.map((requirement, n) => (
        <BenchLine
          key={`${requirement.folder} ${requirement.kind}`}
          line={lineOfRequirement(requirement)}
          y={HEAD + n * LINE + LINE / 2}
          x={x}
          index={index}
        />
      ))}
      {demands.map((demand, n) => (
        <BenchLine
          key={`${demand.owner} ${demand.range}`}
          line={lineOfDemand(demand)}
          y={HEAD + (sorted.length + n) * LINE + LINE / 2}
          x={x}
          index={index}
        />
      ))}
    </svg>
  );
}

/** First, last and the majors' first releases, without those too near to the chosen one or each other. */
function scaleLabels(
  versions: readonly string[],
  wanted: readonly number[],
  chosen: number | undefined,
): readonly number[] {
  const { positions } = railScale(versions);
  const taken = chosen === undefined ? [] : [positions[chosen]!];
  return [...new Set(wanted)].filter((i) => {
    const at = positions[i];
    if (at === undefined || taken.some((other) => Math.abs(other - at) < 0.14)) return false;
    taken.push(at);
    return true;
  });
}

/** One line of the chart. */
interface ChartLine {
  readonly owner: string;
  /** Set small beside the owner. */
  readonly remark: string;
  readonly words: string;
  readonly span: BenchRequirement['span'];
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

function lineOfRequirement(requirement: BenchRequirement): ChartLine {
  const { project, written, range, span, copy, isOff, standing, kind, place, exception } =
    requirement;
  const detail = [
    `${project} requires ${written === 'shared' ? `the shared version ${range}` : range} (${kind})`,
    copy === null ? 'no copy in the lockfile' : `copy ${copy}`,
    exception === null
      ? ''
      : `by leave until ${exception.until}: ${exception.reason} (${exception.owner})`,
    `${place.file}:${place.line}`,
  ];
  return {
    owner: standing === 'excepted' ? `${project} †` : project,
    remark: kind === 'runtime' ? '' : kind,
    words: written === 'shared' ? 'shared' : range,
    span,
    copy,
    look: isOff ? 'off' : 'inLine',
    detail: detail.filter(Boolean).join('\n'),
  };
}

function lineOfDemand({ owner, range, span, copy }: BenchDemand): ChartLine {
  const answered = copy === null ? 'skipped' : `copy ${copy}`;
  return {
    owner,
    remark: '',
    words: range,
    span,
    copy,
    look: 'ofCopy',
    detail: `the copy ${owner} asks for ${range}\n${answered}`,
  };
}

interface LineProps {
  readonly line: ChartLine;
  readonly y: number;
  readonly x: (index: number) => number;
  readonly index: ReadonlyMap<string, number>;
}

function BenchLine({
  line: { owner, remark, words, span, copy, look, detail },
  y,
  x,
  index,
}: LineProps) {
  const ink = LOOKS[look];
  const at = copy === null ? undefined : index.get(copy);
  const start = span === null ? null : x(span.first) - 4;
  const end = span === null ? null : x(span.last) + 4;
  const after = Math.max(end ?? LABEL, at === undefined ? 0 : x(at) + 6);
  const length = words.length * 6.6 + 6;
  const place =
    after + length < WIDTH
      ? { at: after + 5, anchor: 'start' as const }
      : (start ?? 0) - LABEL > length
        ? { at: (start ?? 0) - 5, anchor: 'end' as const }
        : { at: ((start ?? LABEL) + (end ?? WIDTH)) / 2, anchor: 'middle' as const };
  return (
    <g>
      <title>{detail}</title>
      <rect x={0} y={y - LINE / 2} width={WIDTH} height={LINE} className="fill-transparent" />
      <text x={0} y={y + 4} className={`text-[12.5px] ${ink.owner}`}>
        {owner}
        {remark !== '' && <tspan className="fill-ink-2 text-[10.5px] font-normal"> {remark}</tspan>}
      </text>
      {start !== null && end !== null && (
        <rect x={start} y={y - 3.5} width={end - start} height={7} rx={1} className={ink.bar} />
      )}
      {at !== undefined && <circle cx={x(at)} cy={y} r={4.5} className={ink.mark} />}
      <text
        x={place.at}
        y={y + 4}
        textAnchor={place.anchor}
        strokeWidth={4}
        className={`stroke-agreed-wash font-mono text-[11px] [paint-order:stroke] ${ink.words}`}
      >
        {words}
      </text>
    </g>
  );
}
