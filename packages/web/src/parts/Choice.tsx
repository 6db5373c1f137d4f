import { ToggleGroup } from 'radix-ui';
import type { Ref } from 'react';

interface Props<T extends string> {
  readonly label: string;
  readonly value: T;
  readonly options: readonly { readonly value: T; readonly text: string }[];
  readonly onChange: (value: T) => void;
  /** Whoever gives it the focus gives it to what is chosen. */
  readonly ref?: Ref<HTMLDivElement>;
}

/** One of a few, side by side. */
export function Choice<T extends string>({ label, value, options, onChange, ref }: Props<T>) {
  return (
    <ToggleGroup.Root
      ref={ref}
      type="single"
      aria-label={label}
      value={value}
      onValueChange={(next) => next !== '' && onChange(next as T)}
      className="flex overflow-hidden rounded-sm border border-rule-strong"
    >
      {options.map((option) => (
        <ToggleGroup.Item
          key={option.value}
          value={option.value}
          className="border-r border-rule-strong px-2.5 py-[4px] whitespace-nowrap text-ink-2 last:border-r-0 hover:bg-bar data-[state=on]:bg-ink data-[state=on]:text-paper focus-visible:outline-offset-[-3px] data-[state=on]:focus-visible:outline-paper"
        >
          {option.text}
        </ToggleGroup.Item>
      ))}
    </ToggleGroup.Root>
  );
}
