import { useId, type InputHTMLAttributes } from 'react';

interface Props extends InputHTMLAttributes<HTMLInputElement> {
  readonly label: string;
  readonly hint?: string;
  /** What is wrong with what is typed; it stands in place of the hint. */
  readonly problem?: string;
}

export function Field({ label, hint, problem, className = '', ...rest }: Props) {
  const id = useId();
  const said = problem ?? hint;
  return (
    <div className="flex flex-col gap-0.5">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <input
        id={id}
        aria-describedby={said === undefined ? undefined : `${id}-said`}
        aria-invalid={problem !== undefined}
        className={`rounded-sm border bg-leaf px-2 py-1 ${problem === undefined ? 'border-rule-strong' : 'border-off'} ${className}`}
        {...rest}
      />
      {said !== undefined && (
        <p
          id={`${id}-said`}
          role={problem === undefined ? undefined : 'status'}
          className={`text-sm ${problem === undefined ? 'text-ink-2' : 'text-off'}`}
        >
          {said}
        </p>
      )}
    </div>
  );
}
