import type { Interval } from './interval-set.js';
import { intervalSet, intervalSetContains } from './interval-set.js';
import type { PrereleasePolicy, Range } from './range.js';
import {
  compareVersions,
  isPrerelease,
  isSameTriple,
  isSameVersion,
  LOWEST,
  nextVersion,
  printVersion,
  release,
  type Version,
} from './version.js';

/**
 * A text that reads back as the same set under the same policy. Short forms first: `^1.2.0`, `~1.2.0`,
 * `1.2.3`, `*`. Null for a set that no text of this policy says: the empty one, and one that admits
 * prereleases across several major.minor.patch without their bounds naming them.
 */
export function printRange(range: Range, policy: PrereleasePolicy = 'named'): string | null {
  const alternatives = policy === 'always' ? plainAlternatives(range) : namedAlternatives(range);
  if (alternatives === null || alternatives.length === 0) return null;
  return alternatives
    .map((alternative) => printAlternative(alternative, policy === 'always'))
    .join(' || ');
}

/** The same in VERS notation, or null where VERS cannot say it. */
export function printVers(range: Range, policy: PrereleasePolicy = 'named'): string | null {
  const alternatives = policy === 'always' ? plainAlternatives(range) : namedAlternatives(range);
  if (alternatives === null || alternatives.length === 0) return null;
  const ascending = [...alternatives].sort((a, b) => compareVersions(a.from, b.from));
  const apart = ascending.every((next, i) => {
    const last = ascending[i - 1];
    return (
      last === undefined || (last.below !== null && compareVersions(last.below, next.from) < 0)
    );
  });
  if (!apart) return null;
  const isPlain = policy === 'always';
  const constraints = ascending.flatMap(({ from, below }, i) => {
    if (isExact({ from, below }, isPlain)) return [encode(from)];
    const bounds = i === 0 && isLowest(from, isPlain) ? [] : [`>=${encode(from)}`];
    return below === null ? bounds : [...bounds, `<${encode(below)}`];
  });
  return `vers:semver/${constraints.length === 0 ? '*' : constraints.join('|')}`;
}

function encode(version: Version): string {
  return encodeURIComponent(printVersion(version));
}

/** Can a lower bound be left out? Under `named` one that names a prerelease cannot: it admits it. */
function isLowest(version: Version, isPlain: boolean): boolean {
  return isSameVersion(version, isPlain ? LOWEST : release(0, 0, 0));
}

function isExact({ from, below }: Interval, isPlain: boolean): boolean {
  if (below === null) return false;
  if (isSameVersion(nextVersion(from), below)) return true;
  const nextRelease = release(from.major, from.minor, from.patch + 1);
  return !isPlain && !isPrerelease(from) && isSameVersion(nextRelease, below);
}

/**
 * Intervals between written bounds that, read under `named`, are this set. A stretch of
 * prereleases that borders on a stretch of releases becomes that one's bound.
 */
function namedAlternatives(range: Range): readonly Interval[] | null {
  const loose = range.prereleases.flatMap(splitByTriple);
  const take = (isWanted: (stretch: Interval) => boolean): Interval | undefined => {
    const index = loose.findIndex(isWanted);
    return index < 0 ? undefined : loose.splice(index, 1)[0];
  };
  const alternatives = range.releases.map(({ from, below }): Interval => {
    const before = take(
      (p) =>
        isSameTriple(p.from, from) && p.below !== null && isSameVersion(p.below, nextVersion(from)),
    );
    const after =
      below === null
        ? undefined
        : take(
            (p) =>
              p.below !== null &&
              isSameVersion(p.from, { ...below, prerelease: [0] }) &&
              isSameTriple(p.below, below),
          );
    return { from: before?.from ?? from, below: after?.below ?? below };
  });
  for (const { from, below } of loose) {
    const triple = release(from.major, from.minor, from.patch);
    if (below === null) return null;
    if (isSameVersion(below, nextVersion(triple))) alternatives.push({ from, below: triple });
    else if (isSameTriple(below, from)) alternatives.push({ from, below });
    else return null;
  }
  return alternatives;
}

/** A stretch of prereleases cut at each patch; whole where it goes beyond one minor line. */
function splitByTriple({ from, below }: Interval): readonly Interval[] {
  if (below === null || below.major !== from.major || below.minor !== from.minor)
    return [{ from, below }];
  const pieces: Interval[] = [];
  let start = from;
  for (let patch = from.patch + 1; patch <= below.patch; patch++) {
    const cut = { ...release(from.major, from.minor, patch), prerelease: [0] };
    pieces.push({ from: start, below: cut });
    start = cut;
  }
  return isSameVersion(start, below) ? pieces : [...pieces, { from: start, below }];
}

/** Intervals over the whole order of versions, or null when the set is not made of such. */
function plainAlternatives(range: Range): readonly Interval[] | null {
  const cuts = [...range.releases, ...range.prereleases]
    .flatMap(({ from, below }) => (below === null ? [from] : [from, below]))
    .flatMap((cut) => [
      cut,
      ...aroundRelease(cut, 0),
      ...(cut.patch > 0 ? aroundRelease(cut, -1) : []),
    ])
    .sort(compareVersions);
  const inside: Interval[] = [];
  for (const [i, from] of cuts.entries()) {
    const below = cuts[i + 1] ?? null;
    if (below !== null && isSameVersion(from, below)) continue;
    const firstRelease = release(from.major, from.minor, from.patch);
    const firstPrerelease = isPrerelease(from) ? from : nextVersion(from);
    const answers: boolean[] = [];
    if (below === null || compareVersions(firstRelease, below) < 0) {
      answers.push(intervalSetContains(range.releases, firstRelease));
    }
    if (below === null || compareVersions(firstPrerelease, below) < 0) {
      answers.push(intervalSetContains(range.prereleases, firstPrerelease));
    }
    if (answers.includes(true) && answers.includes(false)) return null;
    if (answers.includes(true)) inside.push({ from, below });
  }
  return intervalSet(inside);
}

/** Where the prereleases of a patch begin and end: there the answer for them may change unlike that for releases. */
function aroundRelease({ major, minor, patch }: Version, step: number): readonly Version[] {
  const triple = release(major, minor, patch + step);
  return [{ ...triple, prerelease: [0] }, triple];
}

function printAlternative(alternative: Interval, isPlain: boolean): string {
  const { from, below } = alternative;
  const start = printVersion(from);
  if (below === null) return isLowest(from, isPlain) ? '*' : `>=${start}`;
  if (isExact(alternative, isPlain)) return start;
  // What `^` and `~` leave out begins at the first prerelease of the next line.
  const isShort = !isPlain || isFirstPrerelease(below);
  const end = isPlain ? release(below.major, below.minor, below.patch) : below;
  if (isShort && !isLowest(from, isPlain)) {
    if (isSameVersion(end, caretEndOf(from))) return `^${start}`;
    if (isSameVersion(end, release(from.major, from.minor + 1, 0))) return `~${start}`;
  }
  return isLowest(from, isPlain) ? `<${printVersion(below)}` : `>=${start} <${printVersion(below)}`;
}

function isFirstPrerelease(version: Version): boolean {
  return version.prerelease.length === 1 && version.prerelease[0] === 0;
}

function caretEndOf({ major, minor, patch }: Version): Version {
  if (major > 0) return release(major + 1, 0, 0);
  return minor > 0 ? release(0, minor + 1, 0) : release(0, 0, patch + 1);
}
