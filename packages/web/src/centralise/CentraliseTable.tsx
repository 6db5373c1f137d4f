import type { CentralisingLine } from '../api/client';
import { STEP_RANKS } from '../parts/version-steps';
import { HeadCell } from '../parts/HeadCell';
import { count } from '../parts/words';

interface Props {
  readonly lines: readonly CentralisingLine[];
  readonly chosen: ReadonlyMap<string, string>;
  /** Packages that are in the draft in hand already. */
  readonly pencilled: ReadonlySet<string>;
  readonly onChoose: (name: string, range: string | null) => void;
}

/** One line for each package: the range it would be agreed on at, who just takes it, who would move and how far. */
export function CentraliseTable({ lines, chosen, pencilled, onChoose }: Props) {
  return (
    <div className="overflow-x-auto">
      <table className="rule-double-top w-full table-fixed border-collapse bg-leaf">
        <thead>
          <tr className="border-b border-rule-strong text-left text-sm text-ink-2">
            <HeadCell className="w-[30px]" />
            <HeadCell className="w-[150px] max-fold:w-[118px]">Package</HeadCell>
            <HeadCell className="w-[170px] max-fold:w-[96px]">Agree on</HeadCell>
            <HeadCell className="w-[100px] max-fold:hidden">Already equal</HeadCell>
            <HeadCell>Would change</HeadCell>
          </tr>
        </thead>
        <tbody>
          {lines.map((line, i) => {
            const { package: name, agreed, choices, set } = line;
            const range = chosen.get(name);
            const choice = choices.find((one) => one.range === range) ?? choices[0]!;
            return (
              <tr
                key={name}
                className={`border-b border-rule align-baseline ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
              >
                <td className="py-1.5 pl-2">
                  <input
                    type="checkbox"
                    className="accent-agreed"
                    aria-label={`Move ${name} in`}
                    disabled={pencilled.has(name)}
                    checked={range !== undefined || pencilled.has(name)}
                    onChange={(event) => onChoose(name, event.target.checked ? choice.range : null)}
                  />
                </td>
                <th scope="row" className="truncate px-2 text-left font-semibold">
                  <span className={pencilled.has(name) ? 'pencilled' : ''}>{name}</span>
                  {set !== null && (
                    <span className="ml-1 text-sm font-normal text-ink-2">{set}</span>
                  )}
                </th>
                <td className="px-2">
                  {choices.length === 1 ? (
                    <code className="font-mono text-[13px]">
                      {choice.range}
                      {agreed !== null && (
                        <span className="font-sans text-sm text-ink-2"> agreed already</span>
                      )}
                    </code>
                  ) : (
                    <select
                      aria-label={`Range for ${name}`}
                      value={choice.range}
                      onChange={(event) => onChoose(name, event.target.value)}
                      className="h-[26px] max-w-full rounded-sm border border-rule-strong bg-leaf px-1 font-mono text-[13px]"
                    >
                      {choices.map((one) => (
                        <option key={one.range} value={one.range}>
                          {one.range}
                        </option>
                      ))}
                    </select>
                  )}
                </td>
                <td className="px-2 font-mono text-[13px] max-fold:hidden">
                  {choice.takes.length}
                </td>
                <td className="px-2 text-sm">
                  <Moves choice={choice} />
                </td>
              </tr>
            );
          })}
        </tbody>
      </table>
    </div>
  );
}

function Moves({
  choice: { moves, isStill },
}: {
  readonly choice: CentralisingLine['choices'][number];
}) {
  if (moves.length === 0) return <span className="level text-agreed">nobody</span>;
  const moving = moves.filter(({ from, to }) => from !== to);
  return (
    <details>
      <summary className={isStill ? 'text-ink-2' : 'text-off'}>
        {isStill
          ? `${count(moves.length, 'range')} of others, every copy stays`
          : `${moving.length} would move${furthest(moving)}`}
      </summary>
      <ul className="pb-1 text-ink-2">
        {moves.map(({ project, kind, range, from, to, step }) => (
          <li key={`${project} ${kind}`}>
            {project.split('/').at(-1)}{' '}
            <code className="font-mono text-xs">
              {range}: {from ?? 'none'}
              {from === to ? ' stays' : ` → ${to ?? 'no release'} (${step})`}
            </code>
          </li>
        ))}
      </ul>
    </details>
  );
}

function furthest(moves: CentralisingLine['choices'][number]['moves']): string {
  const [most] = moves.map(({ step }) => step).sort((a, b) => STEP_RANKS[b] - STEP_RANKS[a]);
  return most === undefined || most === 'none' ? '' : `, at most by a ${most}`;
}
