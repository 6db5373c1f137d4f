import { useId } from 'react';
import { TypedChoice, type ChoiceOption } from './TypedChoice';

interface Props {
  readonly label: string;
  readonly value: string;
  readonly options: readonly ChoiceOption[];
  readonly onChange: (value: string) => void;
  /** Beside the list instead of above it. */
  readonly isInLine?: boolean;
}

/** A longer list cannot be looked through; one types what one wants. */
const MOST_LISTED = 30;

/** One of several: a list as the browser has it, or a field to type in where there are many. */
export function SelectField({ label, value, options, onChange, isInLine = false }: Props) {
  const id = useId();
  if (options.length > MOST_LISTED)
    return <TypedChoice {...{ label, value, options, onChange, isInLine }} />;
  return (
    <div className={isInLine ? 'flex items-center gap-1.5' : 'flex flex-col gap-0.5'}>
      <label htmlFor={id} className={isInLine ? 'text-sm text-ink-2' : 'font-semibold'}>
        {label}
      </label>
      <select
        id={id}
        value={value}
        onChange={(event) => onChange(event.target.value)}
        className={`rounded-sm border border-rule-strong bg-leaf px-1 ${isInLine ? 'h-[26px] max-w-[170px] text-sm' : 'h-[30px]'}`}
      >
        {options.map((option) => (
          <option key={option.value} value={option.value}>
            {option.text}
          </option>
        ))}
      </select>
    </div>
  );
}
