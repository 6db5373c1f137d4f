/*
 * range       = *WSP alternative *( *WSP "||" *WSP alternative ) *WSP
 * alternative = hyphen / bound *( 1*WSP bound )
 * hyphen      = partial 1*WSP "-" 1*WSP partial
 * bound       = [ "^" / "~" / "=" / ">" / ">=" / "<" / "<=" ] *WSP partial
 * WSP         = a space or a tab; no other white space
 * What a partial is depends on the scheme (scan-version.ts): in SemVer `1.2` leaves its third number open, in dotted it is
 * the one version 1.2, and `1.2.x` leaves all from the third on open.
 * A text that begins with "vers:" is read by parse-vers.ts.
 */
import { ownText } from '../text/index.js';
import { intervalSet, type Interval } from './interval-set.js';
import { parseVers } from './parse-vers.js';
import {
  fail,
  lowestOf,
  scanPartial,
  wordAt,
  type PartialVersion,
  type Scan,
} from './scan-version.js';
import { NO_VERSION, rangeOfInterval, uniteRanges, type Range } from './range.js';
import { versionProblemMessage } from './version-problem.js';
import {
  caretEndOf,
  compareVersions,
  endOf,
  firstPrerelease,
  isPrerelease,
  LOWEST,
  nextVersion,
  releaseFrom,
  type Version,
} from './version.js';
import { schemeOfReading, type RangeReading, type VersionScheme } from './version-scheme.js';

/** What one bound or hyphen range allows, and the prerelease it names, if any. */
interface Bound {
  readonly interval: Interval;
  readonly named: readonly Version[];
  readonly end: number;
}

const MOST_REMEMBERED = 20_000;
const LONGEST_REMEMBERED = 200;
/** Far longer than any that a person writes; alternatives are joined one by one. */
const LONGEST_RANGE = 4_000;
const remembered: Record<RangeReading, Map<string, Scan<Range>>> = {
  named: new Map(),
  never: new Map(),
  always: new Map(),
  'dotted named': new Map(),
  'dotted never': new Map(),
  'dotted always': new Map(),
};

/**
 * Reads a range. The prerelease rule holds for each alternative by itself: a prerelease named on
 * one side of `||` opens nothing on the other. O(length); a registry says the same few thousand texts
 * over and over, so what was read is remembered, up to a limit.
 */
export function parseRange(text: string, reading: RangeReading = 'named'): Scan<Range> {
  const known = remembered[reading];
  const before = known.get(text);
  if (before !== undefined) return before;
  if (text.length > LONGEST_REMEMBERED) return readRange(text, reading);
  if (known.size >= MOST_REMEMBERED) known.clear();
  const own = ownText(text);
  const fresh = readRange(own, reading);
  known.set(own, fresh);
  return fresh;
}

function readRange(text: string, reading: RangeReading): Scan<Range> {
  if (text.length > LONGEST_RANGE)
    return fail({
      code: 'RANGE_LONG',
      length: text.length,
      most: LONGEST_RANGE,
      span: [0, text.length],
    });
  const odd = ODD_SPACE.exec(text);
  if (odd !== null)
    return fail({ code: 'SPACE_UNUSUAL', found: odd[0], span: [odd.index, odd.index + 1] });
  if (text.startsWith('vers:')) return parseVers(text, reading);
  if (text.trim() === '') return fail({ code: 'RANGE_BLANK', span: [0, text.length] });
  let range = NO_VERSION;
  let at = 0;
  for (;;) {
    const start = skipSpace(text, at);
    const alternative = scanAlternative(text, start, schemeOfReading(reading));
    if (!alternative.ok) return alternative;
    const { interval, named, end } = alternative.value;
    if (intervalSet([interval]).length === 0) {
      const found = text.slice(start, end).trimEnd();
      return fail({ code: 'RANGE_EMPTY', found, span: [start, start + found.length] });
    }
    range = uniteRanges(range, rangeOfInterval(interval, named, reading));
    if (end >= text.length) break;
    at = end + 2;
  }
  return { ok: true, value: range };
}

/** @throws RangeError with the problem in words, for texts that a program wrote. */
export function requireRange(text: string, reading: RangeReading = 'named'): Range {
  const parsed = parseRange(text, reading);
  if (parsed.ok) return parsed.value;
  throw new RangeError(`"${text}": ${versionProblemMessage(parsed.problem)}`);
}

const SPACE = /[ \t]*/y;
/** White space that no range may hold: line ends, no-break spaces and the like. */
const ODD_SPACE = /[^\S \t]/;

function skipSpace(text: string, offset: number): number {
  SPACE.lastIndex = offset;
  SPACE.exec(text);
  return SPACE.lastIndex;
}

/** From the first bound up to `||` or the end of the text.
 *  > ^1.2.0 || >=3.0.0 <3.4.0
 *              ^              */
function scanAlternative(text: string, start: number, scheme: VersionScheme): Scan<Bound> {
  let interval: Interval = { from: LOWEST, below: null };
  let named: readonly Version[] = [];
  let at = start;
  while (at < text.length && text[at] !== '|') {
    const hyphen = at === start ? scanHyphen(text, at, scheme) : null;
    const bound = hyphen ?? scanBound(text, at, scheme);
    if (!bound.ok) return bound;
    interval = narrow(interval, bound.value.interval);
    named = [...named, ...bound.value.named];
    const end = bound.value.end;
    at = skipSpace(text, end);
    if (text[at] === ',') return fail({ code: 'COMMA', found: ',', span: [at, at + 1] });
    const isMore = at < text.length && text[at] !== '|';
    if (isMore && (at === end || hyphen !== null)) {
      const found = wordAt(text, at);
      return fail({ code: 'UNEXPECTED_TEXT', found, span: [at, at + found.length] });
    }
  }
  if (at === start)
    return fail({ code: 'ALTERNATIVE_BLANK', span: [at, Math.min(at + 2, text.length)] });
  if (at < text.length && text[at + 1] !== '|') {
    return fail({ code: 'OPERATOR_UNKNOWN', found: '|', meant: '||', span: [at, at + 1] });
  }
  return { ok: true, value: { interval, named, end: at } };
}

function narrow(a: Interval, b: Interval): Interval {
  const from = compareVersions(a.from, b.from) >= 0 ? a.from : b.from;
  const below =
    a.below === null || (b.below !== null && compareVersions(b.below, a.below) < 0)
      ? b.below
      : a.below;
  return { from, below };
}

const HYPHEN = /[ \t]+-(?=[ \t])[ \t]*/y;

/** Null where no hyphen range begins.
 *  > 1.2.3 - 2.3
 *    ^          */
function scanHyphen(text: string, offset: number, scheme: VersionScheme): Scan<Bound> | null {
  const low = scanPartial(text, offset, scheme);
  if (!low.ok) return null;
  HYPHEN.lastIndex = low.value.end;
  const hyphen = HYPHEN.exec(text);
  if (hyphen === null) return null;
  const highAt = low.value.end + hyphen[0].length;
  const high = scanPartial(text, highAt, scheme);
  if (!high.ok) {
    const found = wordAt(text, highAt);
    return /^[\^~<>=]/.test(found)
      ? fail({ code: 'HYPHEN_BOUND', found, span: [highAt, highAt + found.length] })
      : high;
  }
  const bounds = [lowestOf(low.value), lowestOf(high.value)];
  return {
    ok: true,
    value: {
      interval: { from: bounds[0]!, below: pastOf(high.value, scheme) },
      named: bounds.filter(isPrerelease),
      end: high.value.end,
    },
  };
}

const OPERATOR = /[<>=~^!]+/y;
const OPERATORS = ['^', '~', '=', '>', '>=', '<', '<='];
const MEANT: Readonly<Record<string, string>> = { '==': '=', '=>': '>=', '=<': '<=', '~>': '~' };

/** One bound.
 *  > >=1.2.0 <2
 *    ^          */
function scanBound(text: string, offset: number, scheme: VersionScheme): Scan<Bound> {
  OPERATOR.lastIndex = offset;
  const operator = OPERATOR.exec(text)?.[0] ?? '';
  if (operator !== '' && !OPERATORS.includes(operator)) {
    const meant = MEANT[operator] ?? null;
    const span = [offset, offset + operator.length] as const;
    return fail({ code: 'OPERATOR_UNKNOWN', found: operator, meant, span });
  }
  const partial = scanPartial(text, skipSpace(text, offset + operator.length), scheme);
  if (!partial.ok) return partial;
  const { openAt, end } = partial.value;
  if (openAt === 0 && operator !== '' && operator !== '=') {
    return fail({ code: 'OPERATOR_ON_ANY', operator, span: [offset, end] });
  }
  const from = lowestOf(partial.value);
  const named = isPrerelease(from) ? [from] : [];
  return { ok: true, value: { interval: intervalOf(operator, partial.value, scheme), named, end } };
}

function intervalOf(operator: string, partial: PartialVersion, scheme: VersionScheme): Interval {
  const from = lowestOf(partial);
  const { numbers } = partial;
  switch (operator) {
    case '^':
      return { from, below: firstPrerelease(caretEndOf(numbers)) };
    case '~':
      return { from, below: firstPrerelease(endOf(numbers, Math.min(numbers.length - 1, 1))) };
    case '>':
      return { from: pastAll(partial, scheme), below: null };
    case '>=':
      return { from, below: null };
    case '<':
      return { from: LOWEST, below: from };
    case '<=':
      return { from: LOWEST, below: pastOf(partial, scheme) };
    default:
      return partial.openAt === 0
        ? { from: LOWEST, below: null }
        : { from, below: pastOf(partial, scheme) };
  }
}

/** The end of all that a partial stands for; null when it stands for everything. */
function pastOf(partial: PartialVersion, scheme: VersionScheme): Version | null {
  const { numbers, openAt } = partial;
  if (openAt === 0) return null;
  return openAt === null
    ? nextVersion(lowestOf(partial), scheme)
    : firstPrerelease(endOf(numbers, openAt - 1));
}

/** `>1.2.x` begins at the release 1.3.0, `>1.2.3` right after 1.2.3. */
function pastAll(partial: PartialVersion, scheme: VersionScheme): Version {
  const past = pastOf(partial, scheme) ?? LOWEST;
  return partial.openAt === null ? past : releaseFrom(past);
}
