import { PlainButton } from './PlainButton';

interface Props {
  /** Said to those who hear the page, and shown on hovering. */
  readonly label: string;
  readonly disabled?: boolean;
  readonly onClick: () => void;
  readonly children: string;
}

/** A small step that a line offers, as one word. */
export function Step({ label, disabled = false, onClick, children }: Props) {
  return (
    <PlainButton
      aria-label={label}
      title={label}
      disabled={disabled}
      onClick={onClick}
      className="text-agreed underline decoration-rule-strong underline-offset-3 aria-disabled:text-ink-3"
    >
      {children}
    </PlainButton>
  );
}
