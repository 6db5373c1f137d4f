import { useTyped } from '../parts/useTyped';

interface Props {
  readonly name: string;
  readonly onChange: (name: string) => void;
}

/** The draft's name, to be written over. */
export function DraftName({ name, onChange }: Props) {
  const [text, setText, forget] = useTyped(name);
  const settle = (): void => {
    const trimmed = text.trim();
    if (trimmed === '') forget();
    else if (trimmed !== name) onChange(trimmed);
  };
  return (
    <input
      aria-label="Name of the draft"
      value={text}
      maxLength={120}
      onChange={(event) => setText(event.target.value)}
      onBlur={settle}
      onKeyDown={(event) => {
        if (event.key === 'Enter') event.currentTarget.blur();
        if (event.key === 'Escape') forget();
      }}
      className="-mx-1 w-full rounded-sm border border-transparent bg-transparent px-1 font-serif text-lg font-semibold hover:border-rule-strong focus:bg-leaf"
    />
  );
}
