import { useId, type InputHTMLAttributes } from 'react';

interface Props extends InputHTMLAttributes<HTMLInputElement> {
  readonly label: string;
  readonly hint?: string;
}

export function Field({ label, hint, className = '', ...rest }: Props) {
  const id = useId();
  return (
    <div className="flex flex-col gap-0.5">
      <label htmlFor={id} className="font-semibold">
        {label}
      </label>
      <input
        id={id}
        aria-describedby={hint === undefined ? undefined : `${id}-hint`}
        className={`rounded-sm border border-rule-strong bg-leaf px-2 py-1 ${className}`}
        {...rest}
      />
      {hint !== undefined && (
        <p id={`${id}-hint`} className="text-sm text-ink-2">
          {hint}
        </p>
      )}
    </div>
  );
}
