/** A line of a text that changed. */
export interface ChangedLine {
  readonly is: 'gone' | 'kept' | 'new';
  readonly text: string;
}

/**
 * The lines of two texts in one list: those that both have once, the others where they stood. Lines that changed places
 * are gone from one and new in the other. O(lines squared); an entry of a list has few.
 */
export function changedLines(from: readonly string[], to: readonly string[]): ChangedLine[] {
  const lines: ChangedLine[] = [];
  let next = 0;
  for (const text of from) {
    const at = to.indexOf(text, next);
    if (at < 0) {
      lines.push({ is: 'gone', text });
      continue;
    }
    lines.push(...to.slice(next, at).map((one): ChangedLine => ({ is: 'new', text: one })));
    lines.push({ is: 'kept', text });
    next = at + 1;
  }
  return [...lines, ...to.slice(next).map((text): ChangedLine => ({ is: 'new', text }))];
}
