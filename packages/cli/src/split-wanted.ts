/** `NAME@RANGE` as its parts; an `@` at the very beginning belongs to the name. */
export function splitWanted(text: string): {
  readonly name: string;
  readonly range: string | null;
} {
  const at = text.indexOf('@', 1);
  return at < 0
    ? { name: text, range: null }
    : { name: text.slice(0, at), range: text.slice(at + 1) };
}
