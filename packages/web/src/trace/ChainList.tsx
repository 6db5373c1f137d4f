import { Fragment } from 'react';
import type { TraceChain } from '../api/client';
import { copyInk } from './copy-inks';

interface Props {
  readonly chains: readonly TraceChain[];
  /** Names of the copies in question, oldest first. */
  readonly ends: readonly string[];
  readonly onChoose: (id: string) => void;
  /** Tries what would be if a step of a chain were not there. */
  readonly onStrike: (from: Step, to: Step) => void;
}

export type Step = TraceChain['steps'][number];

/** Chains as sentences, shortest first, with the range of each step. */
export function ChainList({ chains, ends, onChoose, onStrike }: Props) {
  return (
    <ol className="rule-double-top bg-leaf" aria-label="Chains">
      {chains.map(({ steps }, i) => {
        const last = steps.at(-1)!;
        const end = ends.indexOf(last.id);
        return (
          <li
            key={steps.map(({ id }) => id).join(' ')}
            className={`flex items-baseline gap-2 border-b border-rule px-2 py-1.5 ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
          >
            <span className="min-w-0 flex-1">
              {steps.map(({ id, name, written, kind, link }, at) => (
                <Fragment key={id}>
                  {at > 0 && (
                    <>
                      {' '}
                      <button
                        type="button"
                        onClick={() => onStrike(steps[at - 1]!, steps[at]!)}
                        title="Strike it out, and see what would leave"
                        aria-label={`What if ${nameOf(steps[at - 1]!)} did not require ${nameOf(steps[at]!)}`}
                        className="text-ink-3 hover:text-pencil hover:line-through focus-visible:line-through"
                      >
                        →
                      </button>{' '}
                    </>
                  )}
                  <button
                    type="button"
                    onClick={() => onChoose(id)}
                    className={`hover:underline ${kind === 'project' ? 'font-semibold' : 'font-mono text-sm font-semibold'}`}
                  >
                    {name}
                  </button>
                  {written !== null && (
                    <span className="font-mono text-xs text-ink-2">
                      {' '}
                      {written}
                      {link !== null && link !== 'runtime' && ` ${link}`}
                    </span>
                  )}
                </Fragment>
              ))}
            </span>
            <span
              className="font-mono text-sm"
              style={{ color: end < 0 ? undefined : copyInk(end, ends.length) }}
            >
              {last.version ?? 'project'}
            </span>
          </li>
        );
      })}
    </ol>
  );
}

function nameOf({ kind, id, name }: Step): string {
  return kind === 'project' ? name : id;
}
