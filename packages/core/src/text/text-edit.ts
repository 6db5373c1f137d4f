/** A change against the original text, in UTF-16 units. Length 0 inserts, text '' removes. */
export interface TextEdit {
  readonly offset: number;
  readonly length: number;
  readonly text: string;
}

/**
 * The text with all edits made. Their offsets speak of the original text, in any order.
 * @throws RangeError if two edits overlap or one reaches beyond the text.
 */
export function applyEdits(text: string, edits: readonly TextEdit[]): string {
  const sorted = [...edits].sort((a, b) => a.offset - b.offset || a.length - b.length);
  const parts: string[] = [];
  let done = 0;
  for (const edit of sorted) {
    if (edit.offset < done || edit.offset + edit.length > text.length) {
      throw new RangeError(`edit at ${edit.offset} overlaps another or leaves the text`);
    }
    parts.push(text.slice(done, edit.offset), edit.text);
    done = edit.offset + edit.length;
  }
  parts.push(text.slice(done));
  return parts.join('');
}
