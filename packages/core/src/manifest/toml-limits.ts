import { BYTE_ORDER_MARK, type Span } from '../text/index.js';

/*
 * Limits of what is read. Each is far beyond what a manifest needs; without them one file could take a machine's
 * memory, or a parser's stack.
 */
const MOST_CHARACTERS = 4_000_000;
const MOST_IN_STRING = 65_536;
const DEEPEST = 100;

/** The first place where a text goes beyond what is read, in a sentence; null: nowhere. O(length). */
export function beyondLimits(
  text: string,
): { readonly message: string; readonly span: Span } | null {
  if (text.startsWith(BYTE_ORDER_MARK)) {
    const message =
      'The file begins with a byte order mark, which TOML 1.0 does not have. Save it as UTF-8 without one.';
    return { message, span: [0, 1] };
  }
  if (text.length > MOST_CHARACTERS) {
    const message = `The file has ${text.length} characters; at most ${MOST_CHARACTERS} are read.`;
    return { message, span: [MOST_CHARACTERS, MOST_CHARACTERS] };
  }
  let depth = 0;
  const next = /[#"'[\]{}]/g;
  for (let found = next.exec(text); found !== null; found = next.exec(text)) {
    const { index: at } = found;
    const [mark] = found;
    if (mark === '#') next.lastIndex = endOfLine(text, at);
    else if (mark === '"' || mark === "'") {
      const end = endOfString(text, at, mark);
      if (end - at > MOST_IN_STRING) {
        const message = `A string has more than ${MOST_IN_STRING} characters; longer ones are not read.`;
        return { message, span: [at, at + 1] };
      }
      next.lastIndex = end;
    } else if (mark === '[' || mark === '{') {
      depth += 1;
      if (depth > DEEPEST)
        return {
          message: `Values are nested more than ${DEEPEST} deep; deeper ones are not read.`,
          span: [at, at + 1],
        };
    } else depth = Math.max(0, depth - 1);
  }
  return null;
}

function endOfLine(text: string, from: number): number {
  const end = text.indexOf('\n', from);
  return end < 0 ? text.length : end;
}

/** After the closing quotes of a string, or the end of its line where they are missing. */
function endOfString(text: string, start: number, quote: '"' | "'"): number {
  const triple = quote.repeat(3);
  const isLong = text.startsWith(triple, start);
  const width = isLong ? 3 : 1;
  const next = quote === '"' ? /["\\\n]/g : /['\n]/g;
  next.lastIndex = start + width;
  for (let found = next.exec(text); found !== null; found = next.exec(text)) {
    const { index: at } = found;
    const [mark] = found;
    if (mark === '\\') next.lastIndex += 1;
    else if (mark === '\n' && !isLong) return at;
    else if (mark === quote && (!isLong || text.startsWith(triple, at))) return at + width;
  }
  return text.length;
}
