import type { KeyboardEvent } from 'react';
import type { FoundPackage } from '../api/client';
import { count, day } from '../parts/words';

interface Props {
  readonly found: readonly FoundPackage[];
  /** The name of the package that is shown. */
  readonly open: string | null;
  readonly hasSeveralRegistries: boolean;
  readonly onOpen: (name: string) => void;
}

/** Moves the focus to the line above or below. */
function walk(event: KeyboardEvent<HTMLButtonElement>, step: 1 | -1): void {
  const all = [...event.currentTarget.closest('ul')!.querySelectorAll('button')];
  event.preventDefault();
  all[all.indexOf(event.currentTarget) + step]?.focus();
}

/** What was found: each with what it is, its newest release, and how we use it. */
export function FoundList({ found, open, hasSeveralRegistries, onOpen }: Props) {
  return (
    <ul aria-label="Found packages" className="rule-double-top bg-leaf">
      {found.map((one, i) => (
        <li
          key={one.name}
          className={`border-b border-rule ${open === one.name ? 'bg-agreed-wash' : Math.floor(i / 2) % 2 === 0 ? 'bg-bar' : ''}`}
        >
          <button
            type="button"
            aria-current={open === one.name}
            className="block w-full px-2 py-1.5 text-left outline-offset-[-3px]"
            onClick={() => onOpen(one.name)}
            onKeyDown={(event) => {
              if (event.key === 'ArrowDown') walk(event, 1);
              else if (event.key === 'ArrowUp') walk(event, -1);
            }}
          >
            <span className="flex items-baseline gap-2">
              <b className="min-w-0 truncate font-semibold">{one.name}</b>
              <span className="ml-auto font-mono text-[13px] whitespace-nowrap">
                {one.newest ?? 'no release'}
              </span>
            </span>
            <span className="block truncate text-sm text-ink-2">{one.summary}</span>
            <span className="flex flex-wrap gap-x-2 text-sm text-ink-2">
              {one.published !== null && <span>{day(one.published)}</span>}
              <span className={one.isLicenceAllowed ? '' : 'text-off'}>
                {one.licence ?? 'no licence told'}
                {!one.isLicenceAllowed && ', not allowed'}
              </span>
              {hasSeveralRegistries && <span>{one.registry}</span>}
              <span className="ml-auto">
                {one.projects > 0
                  ? `${count(one.projects, 'project')} at ${one.versions.join(', ')}`
                  : one.versions.length > 0
                    ? `in the lockfile at ${one.versions.join(', ')}`
                    : ''}
              </span>
            </span>
          </button>
        </li>
      ))}
    </ul>
  );
}
