/** Deeper than any registry document is; parsers and printers of JSON take a step of the stack for each level. */
const DEEPEST = 64;

const HIGH_SURROGATE = [0xd800, 0xdbff] as const;
const LOW_SURROGATE = [0xdc00, 0xdfff] as const;

/**
 * What in a JSON text cannot be kept or printed again: nesting without end, the character zero, half a character (RFC
 * 8259, section 8.2, leaves both open). Null: nothing. Text that is no JSON is left to the parser. O(length).
 */
export function jsonFault(text: string): string | null {
  let depth = 0;
  for (let at = 0; at < text.length; at++) {
    const unit = text[at];
    if (unit === '{' || unit === '[') {
      depth += 1;
      if (depth > DEEPEST) return `values nested more than ${DEEPEST} deep`;
    } else if (unit === '}' || unit === ']') depth -= 1;
    else if (unit === '"') {
      const end = stringEnd(text, at);
      if (typeof end === 'string') return end;
      at = end;
    }
  }
  return null;
}

/** Where the string that begins here ends, or what is wrong in it. */
function stringEnd(text: string, start: number): number | string {
  let isHalf = false;
  for (let at = start + 1; at < text.length; at++) {
    const unit = text[at];
    if (unit === '"') return isHalf ? HALF : at;
    let code = text.charCodeAt(at);
    if (unit === '\\') {
      at += 1;
      if (text[at] === 'u') {
        code = Number.parseInt(text.slice(at + 1, at + 5), 16);
        at += 4;
      }
    }
    if (code === 0) return 'the character zero';
    const isLow = isIn(code, LOW_SURROGATE);
    if (isLow !== isHalf) return HALF;
    isHalf = isIn(code, HIGH_SURROGATE);
  }
  return text.length;
}

const HALF = 'half a character (a surrogate by itself)';

function isIn(code: number, [from, to]: readonly [number, number]): boolean {
  return code >= from && code <= to;
}
