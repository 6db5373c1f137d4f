/**
 * Offsets at which the lines of a text begin; the first is 0. `\n`, `\r\n` and a lone `\r` end a line.
 * O(length).
 */
export function lineStarts(text: string): readonly number[] {
  const starts = [0];
  for (let i = 0; i < text.length; i++) {
    const unit = text.charCodeAt(i);
    if (unit === 10 || (unit === 13 && text.charCodeAt(i + 1) !== 10)) starts.push(i + 1);
  }
  return starts;
}

/** Line and column, both from 1, of an offset. Columns count UTF-16 units. O(log lines). */
export function positionAt(
  starts: readonly number[],
  offset: number,
): { readonly line: number; readonly column: number } {
  let low = 0;
  let high = starts.length - 1;
  while (low < high) {
    const middle = (low + high + 1) >> 1;
    if (starts[middle]! <= offset) low = middle;
    else high = middle - 1;
  }
  return { line: low + 1, column: offset - starts[low]! + 1 };
}
