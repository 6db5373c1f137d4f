import { Fragment } from 'react';
import type { TraceChain } from '../api/client';
import { Button } from '../parts/Button';
import { copyInk } from './copy-inks';

interface Props {
  readonly chains: readonly TraceChain[];
  /** Names of the copies in question, oldest first. */
  readonly ends: readonly string[];
  readonly onChoose: (id: string) => void;
  /** Tries what would be if the project did not require what the chain goes on with. */
  readonly onStrike: (project: string, name: string) => void;
}

/** Chains as sentences, shortest first, with the range of each step. */
export function ChainList({ chains, ends, onChoose, onStrike }: Props) {
  return (
    <ol className="rule-double-top bg-leaf" aria-label="Chains">
      {chains.map(({ steps }, i) => {
        const last = steps.at(-1)!;
        const end = ends.indexOf(last.id);
        const [top, second] = steps;
        return (
          <li
            key={steps.map(({ id }) => id).join(' ')}
            className={`group flex items-baseline gap-2 border-b border-rule px-2 py-1.5 ${Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
          >
            <span className="min-w-0 flex-1">
              {steps.map(({ id, name, written, kind, link }, at) => (
                <Fragment key={id}>
                  {at > 0 && <span className="text-ink-3"> → </span>}
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
            {top?.kind === 'project' && second !== undefined && (
              <Button
                look="text"
                className="text-sm opacity-0 group-hover:opacity-100 focus:opacity-100"
                onClick={() => onStrike(top.id, second.name)}
                aria-label={`What if ${top.name} did not require ${second.name}`}
              >
                Strike out
              </Button>
            )}
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
