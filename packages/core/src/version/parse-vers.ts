/*
 * vers       = ( "vers:semver/" / "vers:generic/" ) ( "*" / constraint *( "|" constraint ) )
 * constraint = [ "=" / "!=" / "<" / "<=" / ">" / ">=" ] version      version percent-encoded
 * Dotted versions are those of the scheme "generic".
 * Source: the VERS specification of the package-url project.
 */
import type { Interval } from './interval-set.js';
import { parseVersion } from './parse-version.js';
import { fail, type Scan } from './scan-version.js';
import {
  everyVersion,
  isEmptyRange,
  NO_VERSION,
  rangeOfInterval,
  subtractRanges,
  uniteRanges,
  type Range,
} from './range.js';
import type { Span } from '../text/index.js';
import { compareVersions, isPrerelease, LOWEST, nextVersion, type Version } from './version.js';
import {
  readingOf,
  schemeOfReading,
  type RangeReading,
  type VersionScheme,
} from './version-scheme.js';

interface Constraint {
  readonly operator: string;
  readonly version: Version;
  readonly text: string;
  readonly span: Span;
}

/** How a VERS text of each scheme begins. */
export const VERS_PREFIX: Readonly<Record<VersionScheme, string>> = {
  semver: 'vers:semver/',
  dotted: 'vers:generic/',
};

/** Reads a VERS text. The prerelease rule holds for each of its intervals by itself. O(n log n). */
export function parseVers(text: string, reading: RangeReading): Scan<Range> {
  const scheme = schemeOfReading(reading);
  const prefix = VERS_PREFIX[scheme];
  if (!text.startsWith(prefix)) {
    const slash = text.indexOf('/');
    const found = slash < 0 ? text : text.slice(0, slash + 1);
    return fail({ code: 'VERS_SCHEME', found, meant: prefix, span: [0, found.length] });
  }
  const body = text.slice(prefix.length);
  if (body === '*') return { ok: true, value: everyVersion(reading) };
  const constraints: Constraint[] = [];
  let at = prefix.length;
  for (const piece of body.split('|')) {
    const constraint = readConstraint(piece, at, scheme);
    if (!constraint.ok) return constraint;
    const last = constraints.at(-1);
    if (last !== undefined) {
      const order = compareVersions(last.version, constraint.value.version);
      if (order === 0)
        return fail({ code: 'VERS_TWICE', found: piece, span: constraint.value.span });
      if (order > 0) return fail({ code: 'VERS_ORDER', found: piece, span: constraint.value.span });
    }
    constraints.push(constraint.value);
    at += piece.length + 1;
  }
  const wrong = outOfOrder(constraints);
  if (wrong !== null) return fail({ code: 'VERS_ORDER', found: wrong.text, span: wrong.span });
  // Whether bounds exclude each other must not depend on which prereleases a policy admits.
  if (isEmptyRange(rangeOfConstraints(constraints, readingOf(scheme, 'always')))) {
    const span = [prefix.length, text.length] as const;
    return fail({ code: 'RANGE_EMPTY', found: body, span });
  }
  return { ok: true, value: rangeOfConstraints(constraints, reading) };
}

function readConstraint(piece: string, at: number, scheme: VersionScheme): Scan<Constraint> {
  const operator = /^(!=|<=|>=|[<>=])?/.exec(piece)![0];
  const encoded = piece.slice(operator.length);
  const span = [at, at + piece.length] as const;
  let decoded: string;
  try {
    decoded = decodeURIComponent(encoded);
  } catch {
    return fail({ code: 'VERS_ESCAPE', found: encoded, span });
  }
  const parsed = parseVersion(decoded, scheme);
  if (!parsed.ok) return fail({ ...parsed.problem, span });
  return {
    ok: true,
    value: { operator: operator || '=', version: parsed.value, text: piece, span },
  };
}

/** The constraint that does not follow from those before it: bounds alternate, lower before upper. Null: none. */
function outOfOrder(constraints: readonly Constraint[]): Constraint | null {
  let isOpen = false;
  let isFirst = true;
  for (const one of constraints.filter((c) => !isHole(c))) {
    const isUpper = one.operator.startsWith('<');
    if (isUpper ? !isOpen && !isFirst : isOpen) return one;
    isOpen = one.operator.startsWith('>');
    isFirst = false;
  }
  return null;
}

function isHole({ operator }: Constraint): boolean {
  return operator === '!=';
}

/** @param constraints in order */
function rangeOfConstraints(constraints: readonly Constraint[], reading: RangeReading): Range {
  const scheme = schemeOfReading(reading);
  const kept = constraints.filter((c) => !isHole(c));
  let range = kept.length === 0 ? everyVersion(reading) : NO_VERSION;
  let lower: Constraint | null = null;
  const add = (interval: Interval, bounds: readonly (Constraint | null)[]): void => {
    const named = bounds.flatMap((c) => (c && isPrerelease(c.version) ? [c.version] : []));
    range = uniteRanges(range, rangeOfInterval(interval, named, reading));
  };
  for (const c of kept) {
    if (c.operator === '=') add({ from: c.version, below: nextVersion(c.version, scheme) }, [c]);
    else if (c.operator.startsWith('>')) lower = c;
    else {
      const below = c.operator === '<' ? c.version : nextVersion(c.version, scheme);
      add({ from: lower === null ? LOWEST : startOf(lower, scheme), below }, [lower, c]);
      lower = null;
    }
  }
  if (lower !== null) add({ from: startOf(lower, scheme), below: null }, [lower]);
  for (const hole of constraints.filter(isHole)) {
    const interval = { from: hole.version, below: nextVersion(hole.version, scheme) };
    range = subtractRanges(range, rangeOfInterval(interval, [hole.version], reading));
  }
  return range;
}

function startOf(lower: Constraint, scheme: VersionScheme): Version {
  return lower.operator === '>' ? nextVersion(lower.version, scheme) : lower.version;
}
