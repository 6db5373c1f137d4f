/** One line of a lockfile, taken apart. Filled again for each line, so that no line makes a list. */
export class LockWords {
  readonly texts: string[] = [];
  readonly isQuoted: boolean[] = [];
  count = 0;
  private readonly shared = new Map<string, string>();
  /** Are the words set apart by one blank each, and their strings spelt as JSON spells them? */
  isTidy = true;

  /**
   * The words of text[start..end): bare ones, and JSON strings decoded, with white space between them.
   *  >   optional neve-native "^1.0.0" when "linux-*" by 1.0.3
   *      ^                                                     ^
   * @returns false where it has anything else
   */
  split(text: string, start: number, end: number): boolean {
    this.count = 0;
    this.isTidy = true;
    let at = start;
    for (;;) {
      const gap = at;
      while (at < end && isSpace(text.charCodeAt(at))) at += 1;
      const width = this.count > 0 && at < end ? 1 : 0;
      if (at - gap !== width || (width === 1 && text.charCodeAt(gap) !== 32)) this.isTidy = false;
      if (at >= end) return true;
      const isQuoted = text.charCodeAt(at) === QUOTE;
      const stop = isQuoted ? closingQuote(text, at, end) : bareEnd(text, at, end);
      if (stop < 0 || (stop < end && !isSpace(text.charCodeAt(stop)))) return false;
      const word = isQuoted ? this.decode(text, at, stop) : text.slice(at, stop);
      if (word === null) return false;
      this.texts[this.count] = this.only(word);
      this.isQuoted[this.count] = isQuoted;
      this.count += 1;
      at = stop;
    }
  }

  /**
   * The one string that stands for all of the same text: names and ranges come back thousands of times,
   * and strings that are one are compared and looked up in a third of the time.
   */
  private only(text: string): string {
    if (text.length > LONGEST_SHARED) return text;
    const known = this.shared.get(text);
    if (known !== undefined) return known;
    this.shared.set(text, text);
    return text;
  }

  private decode(text: string, start: number, stop: number): string | null {
    const plain = text.slice(start + 1, stop - 1);
    if (!plain.includes('\\') && !hasControl(plain)) return plain;
    try {
      const decoded = JSON.parse(text.slice(start, stop)) as string;
      this.isTidy &&= JSON.stringify(decoded) === text.slice(start, stop);
      return decoded;
    } catch {
      return null;
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

/** Longer ones, as sums are, are seldom there twice. */
const LONGEST_SHARED = 60;

const QUOTE = 34;
const BACKSLASH = 92;

function isSpace(unit: number): boolean {
  return unit === 32 || unit === 9;
}

/** Characters that cannot stand in a bare word: blanks, control characters, a double quote. */
// oxlint-disable-next-line no-control-regex -- control characters are what is looked for
const NOT_BARE = /["\u0000-\u0020]/;

/** Is the text written as a string even where a bare word would do? */
export function needsQuotes(text: string): boolean {
  return text === '' || NOT_BARE.test(text);
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

function hasControl(text: string): boolean {
  for (let i = 0; i < text.length; i++) if (text.charCodeAt(i) < 32) return true;
  return false;
}
