import { useState } from 'react';
import type { FormField } from './form';

interface Props {
  readonly field: Extract<FormField, { type: 'many' }>;
  readonly chosen: readonly string[];
  readonly onChange: (chosen: readonly string[]) => void;
}

/** How many options are shown at once; the rest is found by typing. */
const MOST_SHOWN = 60;

/** Some of a list, each with a box; those that are chosen stay in sight. */
export function ManyField({ field: { label, options }, chosen, onChange }: Props) {
  const [query, setQuery] = useState('');
  const found = options.filter(({ text }) => text.toLowerCase().includes(query.toLowerCase()));
  const shown = [
    ...options.filter(({ value }) => chosen.includes(value)),
    ...found.filter(({ value }) => !chosen.includes(value)).slice(0, MOST_SHOWN),
  ];
  const left = found.filter((one) => !shown.includes(one)).length;
  return (
    <fieldset className="min-w-0">
      <legend className="font-semibold">
        {label}{' '}
        <span className="font-normal text-ink-2">
          {chosen.length} of {options.length}
        </span>
      </legend>
      {options.length > 8 && (
        <input
          type="search"
          value={query}
          onChange={(event) => setQuery(event.target.value)}
          placeholder="Find"
          aria-label={`Find in ${label}`}
          className="mb-1 h-[28px] w-full rounded-sm border border-rule-strong bg-leaf px-2"
        />
      )}
      <ul className="max-h-[180px] overflow-auto border border-rule-strong bg-leaf px-2 py-1">
        {shown.map(({ value, text }) => (
          <li key={value}>
            <label className="flex cursor-pointer items-baseline gap-2 py-0.5">
              <input
                type="checkbox"
                className="accent-agreed"
                checked={chosen.includes(value)}
                onChange={(event) =>
                  onChange(
                    event.target.checked
                      ? [...chosen, value]
                      : chosen.filter((one) => one !== value),
                  )
                }
              />
              {text}
            </label>
          </li>
        ))}
        {left > 0 && <li className="text-sm text-ink-2">and {left} more; type to find them</li>}
      </ul>
    </fieldset>
  );
}
