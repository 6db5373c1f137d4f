import { useRef, useState, type PointerEvent } from 'react';
import type { Candidate } from '@deep-ledger/core';
import type { PanelDemand, PanelRequirement, AlignmentRow } from '../api/client';
import { count } from '../parts/words';
import { useMedia } from '../frame/useMedia';
import { railScale } from '../alignment/rail-scale';
import { PanelLine, lineOfDemand, lineOfRequirement, type ChartLine } from './PanelLine';
import { HEAD, LINE, PHONE_CHART, USUAL_CHART } from './chart-measures';

interface Props {
  readonly row: AlignmentRow;
  readonly requirements: readonly PanelRequirement[];
  /** What copies in the lockfile ask. */
  readonly demands: readonly PanelDemand[];
  readonly candidates: readonly Candidate[];
  /** The version under the mark; null: there is no mark. */
  readonly mark: string | null;
  /** Folders of projects whose manifest would change. */
  readonly takers: readonly string[];
  readonly onDrag: (version: string) => void;
  readonly onSettle: (version: string) => void;
}

const PHONE = '(max-width: 559.98px)';
/** What a version takes along the line, with what keeps it from the next. */
const LABEL_ROOM = 43;
/** Lines of one sort beyond this many are folded. */
const FOLD = 3;

/** Every demand on one scale: its range as a bar, its copy as a dot. The mark can be dragged along the releases. */
export function PanelChart(props: Props) {
  const { row, requirements, demands, candidates, mark, takers, onDrag, onSettle } = props;
  const [isUnfolded, setUnfolded] = useState(false);
  const isDragging = useRef(false);
  const measures = useMedia(PHONE) ? PHONE_CHART : USUAL_CHART;
  const { label, length, width } = measures;
  const versions = row.releases.map(({ version }) => version);
  const { positions, majors, divides } = railScale(versions);
  const index = new Map(versions.map((version, i) => [version, i]));
  const along = (position: number): number => label + position * length;
  const x = (i: number): number => along(positions[i] ?? 0);
  const { lines, folded } = chartLines(requirements, demands, isUnfolded);
  const height = HEAD + lines.length * LINE + 6;
  const at = mark === null ? undefined : index.get(mark);
  const versionUnder = (event: PointerEvent<SVGSVGElement>): string | null => {
    const box = event.currentTarget.getBoundingClientRect();
    const wanted = (((event.clientX - box.left) / box.width) * width - label) / length;
    const nearest = positions.reduce(
      (best, position, i) =>
        Math.abs(position - wanted) < Math.abs(positions[best]! - wanted) ? i : best,
      0,
    );
    return versions[nearest] ?? null;
  };
  const onPointer = (event: PointerEvent<SVGSVGElement>): void => {
    if (mark === null) return;
    const version = versionUnder(event);
    if (version === null) return;
    if (event.type === 'pointerdown') {
      const box = event.currentTarget.getBoundingClientRect();
      if (((event.clientX - box.left) / box.width) * width < label - 8 || event.button !== 0)
        return;
      isDragging.current = true;
      event.currentTarget.setPointerCapture(event.pointerId);
    }
    if (!isDragging.current) return;
    if (event.type === 'pointerup') {
      isDragging.current = false;
      onSettle(version);
    } else if (version !== mark) onDrag(version);
  };
  return (
    <>
      <svg
        viewBox={`0 0 ${width} ${height}`}
        className={`block w-full max-w-[760px] touch-pan-y select-none ${mark === null ? '' : 'cursor-ew-resize'}`}
        role="group"
        aria-label="Demands along the releases"
        onPointerDown={onPointer}
        onPointerMove={onPointer}
        onPointerUp={onPointer}
        onPointerCancel={() => {
          isDragging.current = false;
        }}
      >
        {divides.map((divide) => (
          <line
            key={divide}
            x1={along(divide)}
            x2={along(divide)}
            y1={16}
            y2={height}
            className="stroke-ink-3"
            strokeDasharray="1 3"
          />
        ))}
        {scaleLabels(versions, [0, ...majors, versions.length - 1], at, LABEL_ROOM / length).map(
          (i) => (
            <text
              key={i}
              x={x(i)}
              y={10}
              textAnchor={i === 0 ? 'start' : 'middle'}
              className="fill-ink-2 font-mono text-[10.5px]"
            >
              {versions[i]}
            </text>
          ),
        )}
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
        {candidates.map(({ version, result }) => {
          const i = index.get(version);
          return i === undefined ? null : (
            <circle
              key={version}
              cx={x(i)}
              cy={20}
              r={3}
              className={
                result.kind === 'answered'
                  ? 'fill-leaf stroke-ink-2'
                  : 'fill-leaf stroke-rule-strong'
              }
            />
          );
        })}
        {lines.map((line, n) => (
          <PanelLine
            key={line.key}
            line={line}
            y={HEAD + n * LINE + LINE / 2}
            x={x}
            index={index}
            measures={measures}
            isChanging={line.folder !== null && takers.includes(line.folder)}
          />
        ))}
        {at !== undefined && mark !== null && (
          <g
            role="slider"
            aria-label="Version to level at"
            aria-valuemin={0}
            aria-valuemax={versions.length - 1}
            aria-valuenow={at}
            aria-valuetext={mark}
          >
            <line
              x1={x(at)}
              x2={x(at)}
              y1={14}
              y2={height - 2}
              className="stroke-pencil"
              strokeWidth={1.5}
              strokeDasharray="4 3"
            />
            <text
              x={x(at)}
              y={10}
              textAnchor="middle"
              className="fill-ink font-mono text-[10.5px] font-bold"
            >
              {mark}
            </text>
            <path
              d={`M${x(at) - 6} 14h12v8l-6 6l-6 -6z`}
              className="fill-pencil stroke-leaf"
              data-mark={mark}
            />
          </g>
        )}
      </svg>
      {(folded > 0 || isUnfolded) && (
        <button
          type="button"
          aria-expanded={isUnfolded}
          onClick={() => setUnfolded(!isUnfolded)}
          className="text-sm text-agreed underline decoration-rule-strong underline-offset-3"
        >
          {isUnfolded ? 'Fold those in line' : `and ${count(folded, 'demand')} more, all in line`}
        </button>
      )}
    </>
  );
}

/** First the projects that are out of line or have an exception, then the rest, as far as it is not folded. */
function chartLines(
  requirements: readonly PanelRequirement[],
  demands: readonly PanelDemand[],
  isUnfolded: boolean,
): { readonly lines: readonly ChartLine[]; readonly folded: number } {
  const sorted = [...requirements].sort(
    (a, b) => Number(b.isOff) - Number(a.isOff) || a.project.localeCompare(b.project),
  );
  const isTelling = ({ isOff, standing }: PanelRequirement): boolean =>
    isOff || standing === 'excepted';
  const telling = sorted.filter(isTelling).map(lineOfRequirement);
  const rest = sorted.filter((one) => !isTelling(one)).map(lineOfRequirement);
  const ofCopies = demands.map(lineOfDemand);
  const isFew = (list: readonly ChartLine[]): boolean => isUnfolded || list.length <= FOLD + 1;
  const shown = [
    ...telling,
    ...(isFew(rest) ? rest : rest.slice(0, FOLD)),
    ...(isFew(ofCopies) ? ofCopies : ofCopies.slice(0, FOLD)),
  ];
  return { lines: shown, folded: telling.length + rest.length + ofCopies.length - shown.length };
}

/** First, last and the majors' first releases, without those less than `apart` from the chosen one or each other. */
function scaleLabels(
  versions: readonly string[],
  wanted: readonly number[],
  chosen: number | undefined,
  apart: number,
): readonly number[] {
  const { positions } = railScale(versions);
  const taken = chosen === undefined ? [] : [positions[chosen]!];
  return [...new Set(wanted)].filter((i) => {
    const at = positions[i];
    if (at === undefined || taken.some((other) => Math.abs(other - at) < apart)) return false;
    taken.push(at);
    return true;
  });
}
