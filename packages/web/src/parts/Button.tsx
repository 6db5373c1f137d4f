import type { ButtonHTMLAttributes } from 'react';

interface Props extends ButtonHTMLAttributes<HTMLButtonElement> {
  /** `ink` for the one thing a place is for, `quiet` for the others, `text` inside a line. */
  readonly look?: 'ink' | 'quiet' | 'text';
}

const LOOKS = {
  ink: 'border-agreed bg-agreed text-leaf hover:opacity-90',
  quiet: 'border-agreed text-agreed hover:bg-agreed-wash',
  text: 'border-transparent text-agreed underline decoration-rule-strong underline-offset-3 hover:decoration-agreed px-0! py-0! font-normal!',
} as const;

export function Button({ look = 'ink', className = '', ...rest }: Props) {
  return (
    <button
      type="button"
      className={`rounded-sm border-[1.5px] px-2.5 py-1 font-semibold whitespace-nowrap disabled:cursor-default disabled:border-rule-strong disabled:bg-transparent disabled:text-ink-3 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
