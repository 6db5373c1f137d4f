import type { Span } from '../../text/index.js';

const MOST_CHARACTERS = 4_000_000;
const DEEPEST = 100;
/** Strings that open and close something, and may hold brackets. */
const STRING = /"(?:[^"\\\n]|\\.)*"|'[^'\n]*'/y;

/** The limit that a file of brackets and quotes goes beyond, found before it is parsed; null: none. O(length). */
export function beyondSize(text: string): { readonly message: string; readonly span: Span } | null {
  if (text.length <= MOST_CHARACTERS) return null;
  return {
    message: `The file has more than ${MOST_CHARACTERS} characters, and so much is not read.`,
    span: [MOST_CHARACTERS, MOST_CHARACTERS + 1],
  };
}

/** Where brackets are nested too deeply to be read; null: nowhere. O(length). */
export function beyondDepth(
  text: string,
): { readonly message: string; readonly span: Span } | null {
  let depth = 0;
  for (let i = 0; i < text.length; i++) {
    const unit = text[i]!;
    if (unit === '"' || unit === "'") {
      STRING.lastIndex = i;
      const match = STRING.exec(text);
      if (match !== null) i += match[0].length - 1;
    } else if (unit === '{' || unit === '[') {
      depth += 1;
      if (depth > DEEPEST)
        return {
          message: `Values are nested more than ${DEEPEST} deep, and so much is not read.`,
          span: [i, i + 1],
        };
    } else if (unit === '}' || unit === ']') depth = Math.max(0, depth - 1);
  }
  return null;
}
