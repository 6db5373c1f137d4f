/*
 * version    = number "." number "." number [ "-" ids ] [ "+" ids ]
 * partial    = part [ "." part [ "." part [ "-" ids ] [ "+" ids ] ] ]
 * part       = number / "x" / "X" / "*"
 * ids        = id *( "." id )       id = 1*( ALPHA / DIGIT / "-" )
 * number     = "0" / ( "1"-"9" *DIGIT )
 */
import type { Version } from './version.js';
import type { VersionProblem } from './version-problem.js';

/** A version with its later parts left open: `1.2`, `1.x`, `*`. A null part allows anything. */
export interface PartialVersion {
  readonly major: number | null;
  readonly minor: number | null;
  readonly patch: number | null;
  readonly prerelease: Version['prerelease'];
  readonly build: Version['build'];
  readonly end: number;
}

export type Scan<T> =
  | { readonly ok: true; readonly value: T }
  | { readonly ok: false; readonly problem: VersionProblem };

export function fail(problem: VersionProblem): { ok: false; problem: VersionProblem } {
  return { ok: false, problem };
}

const WORD = /[^\s|,]*/y;

/** The word at an offset, for messages: up to white space, `|` or a comma. */
export function wordAt(text: string, offset: number): string {
  WORD.lastIndex = offset;
  return WORD.exec(text)?.[0] ?? '';
}

const PART = /[xX*]|\d+/y;

/**
 * Reads a partial version that begins at an offset.
 *  > ^1.2.x || 2
 *     ^
 */
export function scanPartial(text: string, offset: number): Scan<PartialVersion> {
  const word = wordAt(text, offset);
  if (/^[vV]\d/.test(word)) {
    return fail({ code: 'VERSION_LEADING_V', span: [offset, offset + 1] });
  }
  const parts: (number | null)[] = [];
  let at = offset;
  for (;;) {
    PART.lastIndex = at;
    const found = PART.exec(text)?.[0];
    if (found === undefined) {
      return fail({
        code: parts.length === 0 ? 'VERSION_EXPECTED' : 'VERSION_INCOMPLETE',
        found: word,
        span: [offset, Math.max(offset + word.length, at)],
      });
    }
    const number = /\d/.test(found) ? readNumber(found, at) : { ok: true as const, value: null };
    if (!number.ok) return number;
    if (number.value !== null && parts.includes(null)) {
      return fail({ code: 'NUMBER_AFTER_ANY', found, span: [at, at + found.length] });
    }
    parts.push(number.value);
    at += found.length;
    if (parts.length === 3 || text[at] !== '.') break;
    at += 1;
  }
  const tail = scanTail(text, at);
  if (!tail.ok) return tail;
  const { prerelease, build, end } = tail.value;
  if (end > at && (parts.length < 3 || parts.includes(null))) {
    return fail({ code: 'PRERELEASE_ON_PART', found: word, span: [offset, end] });
  }
  const [major, minor = null, patch = null] = parts as [number | null];
  return { ok: true, value: { major, minor, patch, prerelease, build, end } };
}

function readNumber(found: string, at: number): Scan<number> {
  const span = [at, at + found.length] as const;
  if (found.length > 1 && found.startsWith('0')) return fail({ code: 'LEADING_ZERO', found, span });
  const value = Number(found);
  if (value >= Number.MAX_SAFE_INTEGER) return fail({ code: 'NUMBER_TOO_LARGE', found, span });
  return { ok: true, value };
}

const IDENTIFIER = /[0-9A-Za-z-]*/y;

/** After the third number.
 *  > 1.2.3-beta.2+a7
 *         ^         */
function scanTail(
  text: string,
  start: number,
): Scan<{ prerelease: (number | string)[]; build: string[]; end: number }> {
  const prerelease: (number | string)[] = [];
  const build: string[] = [];
  let at = start;
  if (text[at] === '-') {
    do {
      const id = identifierAt(text, at + 1);
      const span = [at + 1, at + 1 + id.length] as const;
      if (id === '') return fail({ code: 'IDENTIFIER_EMPTY', part: 'prerelease', span });
      if (/^\d+$/.test(id)) {
        const number = readNumber(id, at + 1);
        if (!number.ok) return number;
        prerelease.push(number.value);
      } else prerelease.push(id);
      at += 1 + id.length;
    } while (text[at] === '.');
  }
  if (text[at] === '+') {
    do {
      const id = identifierAt(text, at + 1);
      const span = [at + 1, at + 1] as const;
      if (id === '') return fail({ code: 'IDENTIFIER_EMPTY', part: 'build', span });
      build.push(id);
      at += 1 + id.length;
    } while (text[at] === '.');
  }
  return { ok: true, value: { prerelease, build, end: at } };
}

function identifierAt(text: string, offset: number): string {
  IDENTIFIER.lastIndex = offset;
  return IDENTIFIER.exec(text)?.[0] ?? '';
}
