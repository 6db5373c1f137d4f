import type { Interval } from './interval-set.js';
import { intervalSet, intervalSetContains } from './interval-set.js';
import { VERS_PREFIX } from './parse-vers.js';
import type { Range } from './range.js';
import {
  caretEndOf,
  compareVersions,
  firstPrerelease,
  hasSameNumbers,
  isPrerelease,
  isSameVersion,
  LOWEST,
  nextRelease,
  nextVersion,
  numbersOf,
  printVersion,
  release,
  releaseBefore,
  releaseFrom,
  type Version,
} from './version.js';
import {
  policyOfReading,
  schemeOfReading,
  type RangeReading,
  type VersionScheme,
} from './version-scheme.js';

/**
 * A text that reads back as the same set under the same reading. Short forms first: `^1.2.0`, `~1.2.0`,
 * `1.2.3`, `*`. Null for a set that no text of this reading says: the empty one, and one that admits
 * prereleases of several releases without their bounds naming them.
 */
export function printRange(range: Range, reading: RangeReading = 'named'): string | null {
  const alternatives = alternativesOf(range, reading);
  return (
    alternatives?.map((alternative) => printAlternative(alternative, reading)).join(' || ') ?? null
  );
}

/** The same in VERS notation, or null where VERS cannot say it. */
export function printVers(range: Range, reading: RangeReading = 'named'): string | null {
  const alternatives = alternativesOf(range, reading);
  if (alternatives === null) return null;
  const ascending = [...alternatives].sort((a, b) => compareVersions(a.from, b.from));
  const apart = ascending.every((next, i) => {
    const last = ascending[i - 1];
    return (
      last === undefined || (last.below !== null && compareVersions(last.below, next.from) < 0)
    );
  });
  if (!apart) return null;
  const isPlain = isPlainReading(reading);
  const constraints = ascending.flatMap(({ from, below }, i) => {
    if (isExact({ from, below }, reading)) return [encode(from)];
    const bounds = i === 0 && isLowest(from, isPlain) ? [] : [`>=${encode(from)}`];
    return below === null ? bounds : [...bounds, `<${encode(below)}`];
  });
  const said = constraints.length === 0 ? '*' : constraints.join('|');
  return `${VERS_PREFIX[schemeOfReading(reading)]}${said}`;
}

/** Does the order of versions alone decide what is in a range? */
function isPlainReading(reading: RangeReading): boolean {
  return policyOfReading(reading) === 'always';
}

/** Intervals between written bounds that, read so, are this set; null: there are none. */
function alternativesOf(range: Range, reading: RangeReading): readonly Interval[] | null {
  const scheme = schemeOfReading(reading);
  const alternatives = isPlainReading(reading)
    ? plainAlternatives(range, scheme)
    : namedAlternatives(range, scheme);
  return alternatives?.length === 0 ? null : alternatives;
}

function encode(version: Version): string {
  return encodeURIComponent(printVersion(version));
}

/** Can a lower bound be left out? Under `named` one that names a prerelease cannot: it admits it. */
function isLowest(version: Version, isPlain: boolean): boolean {
  return isSameVersion(version, isPlain ? LOWEST : release(0, 0, 0));
}

function isExact({ from, below }: Interval, reading: RangeReading): boolean {
  if (below === null) return false;
  const scheme = schemeOfReading(reading);
  if (isSameVersion(nextVersion(from, scheme), below)) return true;
  if (isPlainReading(reading) || isPrerelease(from)) return false;
  return isSameVersion(nextRelease(from, scheme), below);
}

/**
 * Intervals between written bounds that, read under `named`, are this set. A stretch of
 * prereleases that borders on a stretch of releases becomes that one's bound.
 */
function namedAlternatives(range: Range, scheme: VersionScheme): readonly Interval[] | null {
  const loose = range.prereleases.flatMap((one) => splitByRelease(one, scheme));
  const take = (isWanted: (stretch: Interval) => boolean): Interval | undefined => {
    const index = loose.findIndex(isWanted);
    return index < 0 ? undefined : loose.splice(index, 1)[0];
  };
  const alternatives = range.releases.map(({ from, below }): Interval => {
    const before = take(
      (p) =>
        hasSameNumbers(p.from, from) &&
        p.below !== null &&
        isSameVersion(p.below, nextVersion(from, scheme)),
    );
    const after =
      below === null
        ? undefined
        : take(
            (p) =>
              p.below !== null &&
              isSameVersion(p.from, firstPrerelease(below)) &&
              hasSameNumbers(p.below, below),
          );
    return { from: before?.from ?? from, below: after?.below ?? below };
  });
  for (const { from, below } of loose) {
    const whole = releaseFrom(from);
    if (below === null) return null;
    if (isSameVersion(below, nextVersion(whole, scheme))) alternatives.push({ from, below: whole });
    else if (hasSameNumbers(below, from)) alternatives.push({ from, below });
    else return null;
  }
  return alternatives;
}

/** A stretch of prereleases cut at each release; whole where more than the last number differs. */
function splitByRelease({ from, below }: Interval, scheme: VersionScheme): readonly Interval[] {
  if (below === null) return [{ from, below }];
  const first = numbersOf(from, scheme);
  const last = numbersOf(below, scheme);
  if (first.slice(0, -1).some((one, i) => one !== last[i])) return [{ from, below }];
  const pieces: Interval[] = [];
  let start = from;
  for (let step = 1; step <= last.at(-1)! - first.at(-1)!; step++) {
    const cut = firstPrerelease(nextRelease(from, scheme, step));
    pieces.push({ from: start, below: cut });
    start = cut;
  }
  return isSameVersion(start, below) ? pieces : [...pieces, { from: start, below }];
}

/** Intervals over the whole order of versions, or null when the set is not made of such. */
function plainAlternatives(range: Range, scheme: VersionScheme): readonly Interval[] | null {
  const cuts = [...range.releases, ...range.prereleases]
    .flatMap(({ from, below }) => (below === null ? [from] : [from, below]))
    .flatMap((cut) => [
      cut,
      ...aroundRelease(cut),
      ...(numbersOf(cut, scheme).at(-1)! > 0 ? aroundRelease(nextRelease(cut, scheme, -1)) : []),
    ])
    .sort(compareVersions);
  const inside: Interval[] = [];
  for (const [i, from] of cuts.entries()) {
    const below = cuts[i + 1] ?? null;
    if (below !== null && isSameVersion(from, below)) continue;
    const firstRelease = releaseFrom(from);
    const prerelease = isPrerelease(from) ? from : nextVersion(from, scheme);
    const answers: boolean[] = [];
    if (below === null || compareVersions(firstRelease, below) < 0) {
      answers.push(intervalSetContains(range.releases, firstRelease));
    }
    if (below === null || compareVersions(prerelease, below) < 0) {
      answers.push(intervalSetContains(range.prereleases, prerelease));
    }
    if (answers.includes(true) && answers.includes(false)) return null;
    if (answers.includes(true)) inside.push({ from, below });
  }
  return intervalSet(inside);
}

/** Where the prereleases of a release begin and end: there the answer for them may change unlike that for releases. */
function aroundRelease(version: Version): readonly Version[] {
  return [firstPrerelease(version), releaseFrom(version)];
}

function printAlternative(alternative: Interval, reading: RangeReading): string {
  const isPlain = isPlainReading(reading);
  const { from, below } = alternative;
  const start = printVersion(from);
  const low = printLow(from, reading);
  if (below === null) return isLowest(from, isPlain) ? '*' : low;
  if (isExact(alternative, reading)) return start;
  // What `^` and `~` leave out begins at the first prerelease of the next line.
  const isShort = !isPlain || isSameVersion(below, firstPrerelease(below));
  const end = isPlain ? releaseFrom(below) : below;
  if (isShort && !isLowest(from, isPlain)) {
    if (isSameVersion(end, caretEndOf([from.major, from.minor, from.patch, ...from.further])))
      return `^${start}`;
    if (isSameVersion(end, release(from.major, from.minor + 1, 0))) return `~${start}`;
  }
  const high = printHigh(from, below, reading);
  return isLowest(from, isPlain) ? high : `${low} ${high}`;
}

function printLow(from: Version, reading: RangeReading): string {
  const last = justBefore(from, reading);
  return last === null ? `>=${printVersion(from)}` : `>${printVersion(last)}`;
}

function printHigh(from: Version, below: Version, reading: RangeReading): string {
  const last = justBefore(below, reading);
  return last === null || compareVersions(last, from) < 0
    ? `<${printVersion(below)}`
    : `<=${printVersion(last)}`;
}

/** The release that a bound comes right after, where it is the shorter text; null: none. */
function justBefore(bound: Version, reading: RangeReading): Version | null {
  const isFirst = isPlainReading(reading)
    ? isSameVersion(bound, firstPrerelease(bound))
    : !isPrerelease(bound);
  return isFirst ? releaseBefore(bound, schemeOfReading(reading)) : null;
}
