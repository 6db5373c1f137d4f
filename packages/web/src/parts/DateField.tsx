import { Field } from './Field';
import { useDayText } from './useDayText';

interface Props {
  readonly label: string;
  /** YYYY-MM-DD; empty: none. */
  readonly value: string;
  /** Hears of days alone, and of an empty field. */
  readonly onChange: (value: string) => void;
}

/** A day, written as everywhere on these pages: 14 Sep 2026. */
export function DateField({ label, value, onChange }: Props) {
  const { isWrong, input } = useDayText(value, onChange);
  return (
    <Field
      label={label}
      required
      {...(isWrong ? { problem: 'Write a day as in 14 Sep 2026.' } : {})}
      {...input}
    />
  );
}
