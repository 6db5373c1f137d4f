import type { KeyboardEvent } from 'react';
import { count } from '../parts/words';
import { copyInk } from './copy-inks';
import type { Pencilled } from './pencilled-trace';
import { BOX_HEIGHT, type PlacedNode } from './trace-layout';

interface Props {
  readonly node: PlacedNode;
  readonly pencilled: Pencilled | null;
  /** Which of the copies in question it is; -1: none. */
  readonly endIndex: number;
  /** How many copies are in question. */
  readonly ends: number;
  readonly isChosen: boolean;
  readonly onChoose: () => void;
  readonly onOpen: () => void;
}

/** A project has corners, a package is round; what is pencilled is dashed. */
export function TraceNodeBox({
  node,
  pencilled,
  endIndex,
  ends,
  isChosen,
  onChoose,
  onOpen,
}: Props) {
  const { kind, name, version, x, y, width, chains, isThrough, isInCycle } = node;
  const isEnd = endIndex >= 0 && kind === 'copy' && node.leadsTo.length > 0;
  const fill = isEnd
    ? copyInk(endIndex, ends)
    : kind === 'project'
      ? 'var(--paper)'
      : 'var(--leaf)';
  const ink = isEnd ? 'var(--leaf)' : 'var(--ink)';
  const keys = (event: KeyboardEvent): void => {
    if (event.key !== 'Enter' && event.key !== ' ') return;
    event.preventDefault();
    event.stopPropagation();
    if (event.key === 'Enter' && isChosen) onOpen();
    else onChoose();
  };
  const isStruck = pencilled !== null && pencilled.kind !== 'enters';
  const label = [
    version === null ? name : `${name} ${version}`,
    ...(pencilled?.kind === 'enters' ? [] : [count(chains, 'chain')]),
    ...(pencilled === null ? [] : [fateWords(pencilled)]),
    ...(isInCycle ? ['in a cycle'] : []),
  ].join(', ');
  return (
    <g
      role="button"
      data-box={node.index}
      tabIndex={-1}
      aria-label={label}
      aria-pressed={isChosen}
      onClick={onChoose}
      onDoubleClick={onOpen}
      onKeyDown={keys}
      opacity={isThrough ? 1 : 0.28}
      className="cursor-pointer"
    >
      <title>{label}</title>
      <rect
        x={x}
        y={y}
        width={width}
        height={BOX_HEIGHT}
        rx={kind === 'project' ? 0 : BOX_HEIGHT / 2}
        fill={fill}
        stroke={
          pencilled !== null
            ? 'var(--pencil)'
            : isInCycle
              ? 'var(--off)'
              : kind === 'more'
                ? 'var(--ink-3)'
                : 'var(--ink)'
        }
        strokeWidth={isChosen ? 2.5 : 1}
        strokeDasharray={pencilled !== null ? '4 3' : kind === 'more' ? '2 3' : undefined}
      />
      <text
        x={x + 9}
        y={y + 15}
        fill={pencilled === null ? ink : isEnd ? ink : 'var(--pencil)'}
        fontStyle={pencilled === null ? undefined : 'italic'}
        className={`text-[12px] ${kind === 'more' ? '' : 'font-semibold'} ${pencilled?.kind === 'leaves' ? 'line-through' : ''}`}
      >
        {fitted(name, width - 18 - (version?.length ?? 0) * 7.6)}
      </text>
      {version !== null && (
        <text
          x={x + width - 9}
          y={y + 15}
          textAnchor="end"
          fill={ink}
          className={`font-mono text-[11.5px] ${isStruck ? 'line-through' : ''}`}
        >
          {version}
        </text>
      )}
      {pencilled?.kind === 'moves' && (
        <text
          x={x + width - 9}
          y={y + BOX_HEIGHT + 11}
          textAnchor="end"
          className="fill-pencil font-mono text-[11px] italic"
        >
          {pencilled.to}
        </text>
      )}
    </g>
  );
}

function fateWords(pencilled: Pencilled): string {
  switch (pencilled.kind) {
    case 'leaves':
      return 'would leave';
    case 'enters':
      return 'would come in';
    case 'moves':
      return `would move to ${pencilled.to}`;
  }
}

function fitted(text: string, room: number): string {
  const letters = Math.max(4, Math.floor(room / 6.4));
  return text.length > letters ? `${text.slice(0, letters - 1)}…` : text;
}
