import { useState } from 'react';

/**
 * The text of a field: what is given, which may still change as answers arrive, until a person types over it.
 * @param about what the field is about; what was typed holds for that alone
 * @returns the text, what takes typed text, and what goes back to the given one
 */
export function useTyped(
  given: string,
  about = '',
): readonly [text: string, type: (text: string) => void, forget: () => void] {
  const [typed, setTyped] = useState<{ readonly about: string; readonly text: string } | null>(
    null,
  );
  return [
    typed?.about === about ? typed.text : given,
    (text) => setTyped({ about, text }),
    () => setTyped(null),
  ];
}
