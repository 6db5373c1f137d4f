/*
 * SemVer:
 * version    = number "." number "." number tail
 * partial    = part [ "." part [ "." part tail ] ]
 * part       = number / "x" / "X" / "*"
 * tail       = [ "-" ids ] [ "+" ids ]
 * ids        = id *( "." id )       id = 1*( ALPHA / DIGIT / "-" )
 * number     = "0" / ( "1"-"9" *DIGIT )
 *
 * Dotted, of which what SemVer reads is a part:
 * version    = digits *5( "." digits ) tail
 * partial    = version / part *5( "." part )
 * part       = digits / "x" / "X" / "*"
 * tail       = [ "-" ids / glued *( "." run *run ) ] [ "+" ids ]
 * glued      = letters *run         run = letters / digits
 */
import { releaseOf, type Version } from './version.js';
import type { VersionProblem } from './version-problem.js';
import { MOST_NUMBERS, type VersionScheme } from './version-scheme.js';

/** A version with its later numbers left open: `1.2.x`, `*` and, in SemVer, `1.2`. */
export interface PartialVersion {
  /** As many as are written before the first that allows anything. */
  readonly numbers: readonly number[];
  /** Which number, from 0, is the first that may be any; null: none, this is one version. */
  readonly openAt: number | null;
  readonly prerelease: Version['prerelease'];
  readonly build: Version['build'];
  readonly end: number;
}

/** The lowest version that a partial stands for: its open numbers are 0. */
export function lowestOf({ numbers, prerelease }: PartialVersion): Version {
  return { ...releaseOf(numbers), prerelease };
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
export function scanPartial(
  text: string,
  offset: number,
  scheme: VersionScheme,
): Scan<PartialVersion> {
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
    const number = /\d/.test(found)
      ? readNumber(found, at, scheme)
      : { ok: true as const, value: null };
    if (!number.ok) return number;
    if (number.value !== null && parts.includes(null)) {
      return fail({ code: 'NUMBER_AFTER_ANY', found, span: [at, at + found.length] });
    }
    parts.push(number.value);
    at += found.length;
    if (parts.length === MOST_NUMBERS[scheme] || text[at] !== '.') break;
    at += 1;
  }
  const tail = scanTail(text, at, scheme);
  if (!tail.ok) return tail;
  const { prerelease, build, end } = tail.value;
  const any = parts.indexOf(null);
  const isShort = scheme === 'semver' && parts.length < MOST_NUMBERS.semver;
  const openAt = any >= 0 ? any : isShort ? parts.length : null;
  if (end > at && openAt !== null) {
    return fail({ code: 'PRERELEASE_ON_PART', found: word, span: [offset, end] });
  }
  const numbers = parts.filter((one) => one !== null);
  return { ok: true, value: { numbers, openAt, prerelease, build, end } };
}

function readNumber(found: string, at: number, scheme: VersionScheme): Scan<number> {
  const span = [at, at + found.length] as const;
  if (scheme === 'semver' && found.length > 1 && found.startsWith('0'))
    return fail({ code: 'LEADING_ZERO', found, span });
  const value = Number(found);
  if (value >= Number.MAX_SAFE_INTEGER) return fail({ code: 'NUMBER_TOO_LARGE', found, span });
  return { ok: true, value };
}

const IDENTIFIER = /[0-9A-Za-z-]*/y;

const GLUED = /[A-Za-z]+[0-9A-Za-z]*(?:\.[0-9A-Za-z]+)*/y;
const RUN = /\d+|[A-Za-z]+/g;

/** After the last number.
 *  > 1.2.3-beta.2+a7
 *         ^         */
function scanTail(
  text: string,
  start: number,
  scheme: VersionScheme,
): Scan<{ prerelease: (number | string)[]; build: string[]; end: number }> {
  const prerelease: (number | string)[] = [];
  const build: string[] = [];
  let at = start;
  GLUED.lastIndex = at;
  const glued = scheme === 'dotted' ? GLUED.exec(text) : null;
  if (glued !== null) {
    for (const { 0: run, index } of glued[0].matchAll(RUN)) {
      const id = /^\d/.test(run) ? readNumber(run, at + index, scheme) : null;
      if (id?.ok === false) return id;
      prerelease.push(id?.value ?? run);
    }
    at += glued[0].length;
  } else if (text[at] === '-') {
    do {
      const id = identifierAt(text, at + 1);
      const span = [at + 1, at + 1 + id.length] as const;
      if (id === '') return fail({ code: 'IDENTIFIER_EMPTY', part: 'prerelease', span });
      if (/^\d+$/.test(id)) {
        const number = readNumber(id, at + 1, scheme);
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
