/** One line of a lockfile, taken apart. Filled anew for each line, so that no line makes a list. */
export class LockWords {
  readonly texts: string[] = [];
  readonly isQuoted: boolean[] = [];
  count = 0;

  /**
   * The words of text[start..end): bare ones, and JSON strings decoded, with white space between them.
   *  >   optional neve-native "^1.0.0" when "linux-*" by 1.0.3
   *      ^                                                     ^
   * @returns false where it has anything else
   */
  split(text: string, start: number, end: number): boolean {
    this.count = 0;
    let at = start;
    for (;;) {
      while (at < end && isSpace(text.charCodeAt(at))) at += 1;
      if (at >= end) return true;
      const isQuoted = text.charCodeAt(at) === QUOTE;
      const stop = isQuoted ? closingQuote(text, at, end) : bareEnd(text, at, end);
      if (stop < 0 || (stop < end && !isSpace(text.charCodeAt(stop)))) return false;
      const word = isQuoted ? decode(text, at, stop) : text.slice(at, stop);
      if (word === null) return false;
      this.texts[this.count] = word;
      this.isQuoted[this.count] = isQuoted;
      this.count += 1;
      at = stop;
    }
  }

  /** Is the word at this place the bare word? */
  is(place: number, word: string): boolean {
    return place < this.count && this.texts[place] === word && !this.isQuoted[place];
  }

  isString(place: number): boolean {
    return place < this.count && this.isQuoted[place]!;
  }
}

const QUOTE = 34;
const BACKSLASH = 92;

function isSpace(unit: number): boolean {
  return unit === 32 || unit === 9;
}

function bareEnd(text: string, start: number, end: number): number {
  let at = start;
  for (; at < end; at++) {
    const unit = text.charCodeAt(at);
    if (unit === QUOTE) return -1;
    if (unit <= 32) break;
  }
  return at;
}

/** After the closing quote; -1 where there is none. */
function closingQuote(text: string, start: number, end: number): number {
  for (let at = start + 1; at < end; at++) {
    const unit = text.charCodeAt(at);
    if (unit === BACKSLASH) at += 1;
    else if (unit === QUOTE) return at + 1;
  }
  return -1;
}

function decode(text: string, start: number, stop: number): string | null {
  const plain = text.slice(start + 1, stop - 1);
  if (!plain.includes('\\') && !hasControl(plain)) return plain;
  try {
    return JSON.parse(text.slice(start, stop)) as string;
  } catch {
    return null;
  }
}

function hasControl(text: string): boolean {
  for (let i = 0; i < text.length; i++) if (text.charCodeAt(i) < 32) return true;
  return false;
}
