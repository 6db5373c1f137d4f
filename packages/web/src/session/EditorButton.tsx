import type { ComponentProps } from 'react';
import { Button } from '../parts/Button';
import { Step } from '../parts/Step';
import { useMayNot } from './useSession';

const WORDS = 'A reader looks. An editor or keeper prepares drafts; ask one of them.';

/** A button for what editors do; a reader sees that it is not for them, and why. */
export function EditorButton({ disabled, title, ...rest }: ComponentProps<typeof Button>) {
  const isRefused = useMayNot('editor');
  return <Button disabled={isRefused || disabled} title={isRefused ? WORDS : title} {...rest} />;
}

/** The same for a small step in a line. */
export function EditorStep({ disabled = false, label, ...rest }: ComponentProps<typeof Step>) {
  const isRefused = useMayNot('editor');
  return (
    <Step
      disabled={isRefused || disabled}
      label={isRefused ? `${label}. ${WORDS}` : label}
      {...rest}
    />
  );
}
