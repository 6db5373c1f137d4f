import { Command } from 'cmdk';
import { Popover } from 'radix-ui';
import { useId, useState } from 'react';
import { findByName } from './find-by-name';

export interface ChoiceOption {
  readonly value: string;
  readonly text: string;
}

interface Props {
  readonly label: string;
  readonly value: string;
  readonly options: readonly ChoiceOption[];
  readonly onChange: (value: string) => void;
  /** Beside the field instead of above it. */
  readonly isInLine: boolean;
}

/** More than can be read at once; what is typed narrows them. */
const MOST_SHOWN = 50;

/** A choice among many, made by typing a part of the name. */
export function TypedChoice({ label, value, options, onChange, isInLine }: Props) {
  const id = useId();
  const [isOpen, setOpen] = useState(false);
  const [typed, setTyped] = useState('');
  const chosen = options.find((one) => one.value === value);
  const named = options.map((one) => ({ ...one, name: one.text }));
  const { shown, total } =
    typed.trim() === ''
      ? {
          shown: named.slice(0, MOST_SHOWN).map((item) => ({ item, marks: [] })),
          total: named.length,
        }
      : findByName(named, typed, MOST_SHOWN);
  const open = (next: boolean): void => {
    setOpen(next);
    setTyped('');
  };
  return (
    <div className={isInLine ? 'flex items-center gap-1.5' : 'flex flex-col gap-0.5'}>
      <span id={id} className={isInLine ? 'text-sm text-ink-2' : 'font-semibold'}>
        {label}
      </span>
      <Popover.Root open={isOpen} onOpenChange={open}>
        <Popover.Trigger asChild>
          <button
            type="button"
            aria-labelledby={`${id} ${id}-value`}
            aria-haspopup="dialog"
            className={`truncate rounded-sm border border-rule-strong bg-leaf px-2 text-left ${isInLine ? 'h-[26px] max-w-[170px] text-sm' : 'h-[30px]'}`}
          >
            <span id={`${id}-value`}>{chosen?.text ?? 'choose'}</span>
          </button>
        </Popover.Trigger>
        <Popover.Portal>
          <Popover.Content
            align="start"
            sideOffset={3}
            aria-label={label}
            className="z-20 w-[280px] border border-rule-strong bg-paper p-2 shadow-lg"
          >
            <Command loop label={label} shouldFilter={false} defaultValue={value}>
              <Command.Input
                autoFocus
                placeholder="Type a part of the name"
                value={typed}
                onValueChange={setTyped}
                className="w-full rounded-sm border border-rule-strong bg-leaf px-2 py-1"
              />
              <Command.List className="mt-1.5 max-h-[260px] overflow-auto bg-leaf">
                <Command.Empty className="px-2 py-2 text-sm text-ink-2">
                  Nothing has “{typed.trim()}” in its name.
                </Command.Empty>
                {shown.map(({ item }) => (
                  <Command.Item
                    key={item.value}
                    value={item.value}
                    onSelect={() => {
                      onChange(item.value);
                      open(false);
                    }}
                    className="cursor-pointer truncate border-b border-rule px-2 py-1 data-[selected=true]:bg-agreed-wash"
                  >
                    {item.text}
                  </Command.Item>
                ))}
              </Command.List>
              {total > shown.length && (
                <p className="pt-1 text-sm text-ink-2">
                  {shown.length} of {total}; type to see others
                </p>
              )}
            </Command>
          </Popover.Content>
        </Popover.Portal>
      </Popover.Root>
    </div>
  );
}
