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
 * `1.2.3`, `*`. Null for a set that no text of this policy says: one that admits prereleases across
 * several major.minor.patch without their bounds naming them.
 */
export function printRange(range: Range, policy: PrereleasePolicy = 'named'): string | null {
  const alternatives = policy === 'always' ? plainAlternatives(range) : namedAlternatives(range);
  if (alternatives === null) return null;
  if (alternatives.length === 0) return '<0.0.0-0';
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
    return last === undefined || (last.below !== null && compareVersions(last.below, next.from) < 0);
  });
  if (!apart) return null;
  const constraints = ascending.flatMap(({ from, below }) => {
    if (below !== null && isSameVersion(nextVersion(from), below)) return [encode(from)];
    const bounds = isLowest(from) ? [] : [`>=${encode(from)}`];
    return below === null ? bounds : [...bounds, `<${encode(below)}`];
  });
  return `vers:semver/${constraints.length === 0 ? '*' : constraints.join('|')}`;
}

function encode(version: Version): string {
  return encodeURIComponent(printVersion(version));
}

function isLowest(version: Version): boolean {
  return isSameVersion(version, LOWEST) || isSameVersion(version, release(0, 0, 0));
}

/**
 * Intervals between written bounds that, read under `named`, are this set. A stretch of
 * prereleases that borders on a stretch of releases becomes that one's bound.
 */
function namedAlternatives(range: Range): readonly Interval[] | null {
  const loose = [...range.prereleases];
  const take = (isWanted: (stretch: Interval) => boolean): Interval | undefined => {
    const index = loose.findIndex(isWanted);
    return index < 0 ? undefined : loose.splice(index, 1)[0];
  };
  const alternatives = range.releases.map(({ from, below }): Interval => {
    const before = take(
      (p) => isSameTriple(p.from, from) && p.below !== null && isSameVersion(p.below, nextVersion(from)),
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

/** Intervals over the whole order of versions, or null when the set is not made of such. */
function plainAlternatives(range: Range): readonly Interval[] | null {
  const cuts = [...range.releases, ...range.prereleases]
    .flatMap(({ from, below }) => (below === null ? [from] : [from, below]))
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

function printAlternative({ from, below }: Interval, isPlain: boolean): string {
  const start = printVersion(from);
  if (below === null) return isLowest(from) && !(isPlain && !isPrerelease(from)) ? '*' : `>=${start}`;
  if (isSameVersion(nextVersion(from), below)) return start;
  const exactEnd = release(from.major, from.minor, from.patch + 1);
  if (!isPlain && !isPrerelease(from) && isSameVersion(exactEnd, below)) return start;
  const end = isPlain && isFirstPrerelease(below) ? release(below.major, below.minor, below.patch) : below;
  const isShort = !isPlain || isFirstPrerelease(below);
  if (isShort && isSameVersion(end, caretEndOf(from)) && !isLowest(from)) return `^${start}`;
  if (isShort && isSameVersion(end, release(from.major, from.minor + 1, 0))) return `~${start}`;
  return isLowest(from) && (!isPlain || isPrerelease(from))
    ? `<${printVersion(below)}`
    : `>=${start} <${printVersion(below)}`;
}

function isFirstPrerelease(version: Version): boolean {
  return version.prerelease.length === 1 && version.prerelease[0] === 0;
}

function caretEndOf({ major, minor, patch }: Version): Version {
  if (major > 0) return release(major + 1, 0, 0);
  return minor > 0 ? release(0, minor + 1, 0) : release(0, 0, patch + 1);
}
