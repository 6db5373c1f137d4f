/*
 * Lines of a TOML text, as edits look at them. Offsets are in UTF-16 units; lines end with `\n` or `\r\n`.
 */

/** How the lines of a text end: as its first one does. */
export function newlineOf(text: string): string {
  const first = text.indexOf('\n');
  return first > 0 && text[first - 1] === '\r' ? '\r\n' : '\n';
}

/** Where the line of an offset begins. */
export function lineStart(text: string, offset: number): number {
  return offset === 0 ? 0 : text.lastIndexOf('\n', offset - 1) + 1;
}

/** The offset of the line's end, before `\r\n` or `\n`. */
export function lineEnd(text: string, offset: number): number {
  const newline = text.indexOf('\n', offset);
  if (newline < 0) return text.length;
  return newline > offset && text[newline - 1] === '\r' ? newline - 1 : newline;
}

/** Where the next line begins. */
export function nextLine(text: string, offset: number): number {
  const newline = text.indexOf('\n', offset);
  return newline < 0 ? text.length : newline + 1;
}

/**
 * Where the comments begin that stand right above a line, without a blank line between.
 * @param from the start of a line
 * @param limit what stands before it is not looked at
 */
export function withCommentsAbove(text: string, from: number, limit: number): number {
  let start = from;
  while (start > limit) {
    const above = lineStart(text, start - 1);
    if (above < limit || !/^[ \t]*#/.test(text.slice(above, start))) return start;
    start = above;
  }
  return start;
}
