import type { ComponentProps } from 'react';
import { PlainButton } from './PlainButton';

interface Props extends ComponentProps<'button'> {
  /** `ink` for the one thing a place is for, `quiet` for the others, `text` inside a line. */
  readonly look?: 'ink' | 'quiet' | 'text';
}

const LOOKS = {
  ink: 'border-agreed bg-agreed text-leaf hover:opacity-90',
  quiet: 'border-agreed text-agreed hover:bg-agreed-wash',
  text: 'border-transparent! text-agreed underline decoration-rule-strong underline-offset-3 hover:decoration-agreed px-0! py-0! font-normal!',
} as const;

export function Button({ look = 'ink', className = '', ...rest }: Props) {
  return (
    <PlainButton
      className={`rounded-sm border-[1.5px] px-2.5 py-1 font-semibold whitespace-nowrap aria-disabled:cursor-default aria-disabled:border-rule-strong aria-disabled:bg-transparent aria-disabled:text-ink-3 ${LOOKS[look]} ${className}`}
      {...rest}
    />
  );
}
