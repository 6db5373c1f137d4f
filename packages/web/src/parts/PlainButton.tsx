import { useState, type ComponentProps } from 'react';

/**
 * A button without a look. Where it can no longer be pressed while it has the focus, as while its own work is done, it
 * keeps the focus: a browser would take it away, and who works by keys would lose the place.
 */
export function PlainButton({
  disabled = false,
  onClick,
  onFocus,
  onBlur,
  ...rest
}: ComponentProps<'button'>) {
  const [hasFocus, setFocus] = useState(false);
  return (
    <button
      type="button"
      {...rest}
      disabled={disabled && !hasFocus}
      aria-disabled={disabled || undefined}
      onFocus={(event) => {
        setFocus(true);
        onFocus?.(event);
      }}
      onBlur={(event) => {
        setFocus(false);
        onBlur?.(event);
      }}
      onClick={(event) => {
        if (disabled) event.preventDefault();
        else onClick?.(event);
      }}
    />
  );
}
