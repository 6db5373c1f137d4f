import { compareVersions, type Version } from './version.js';

/** All v with from <= v < below; below null: no upper end. Never empty. */
export interface Interval {
  readonly from: Version;
  readonly below: Version | null;
}

/**
 * Disjoint intervals in ascending order, no two of which touch. Since every version has a next one,
 * half-open intervals say everything, and equal sets have equal lists.
 */
export type IntervalSet = readonly Interval[];

function compareEnds(a: Version | null, b: Version | null): number {
  if (a === null || b === null) return a === b ? 0 : a === null ? 1 : -1;
  return compareVersions(a, b);
}

/** The set of all versions in any of the intervals; empty ones may be among them. O(n log n). */
export function intervalSet(intervals: readonly Interval[]): IntervalSet {
  const sorted = intervals
    .filter(({ from, below }) => compareEnds(from, below) < 0)
    .sort((a, b) => compareVersions(a.from, b.from));
  const merged: Interval[] = [];
  for (const next of sorted) {
    const last = merged.at(-1);
    if (last === undefined || compareEnds(next.from, last.below) > 0) merged.push(next);
    else if (compareEnds(next.below, last.below) > 0) {
      merged[merged.length - 1] = { from: last.from, below: next.below };
    }
  }
  return merged;
}

/** O(a + b). */
export function intersectIntervalSets(a: IntervalSet, b: IntervalSet): IntervalSet {
  const both: Interval[] = [];
  for (let i = 0, j = 0; i < a.length && j < b.length;) {
    const x = a[i]!;
    const y = b[j]!;
    const from = compareVersions(x.from, y.from) >= 0 ? x.from : y.from;
    const below = compareEnds(x.below, y.below) <= 0 ? x.below : y.below;
    if (compareEnds(from, below) < 0) both.push({ from, below });
    if (compareEnds(x.below, y.below) <= 0) i += 1;
    else j += 1;
  }
  return both;
}

/** All of `a` that is not in `b`. O(a + b). */
export function subtractIntervalSets(a: IntervalSet, b: IntervalSet): IntervalSet {
  const rest: Interval[] = [];
  let j = 0;
  for (const { from, below } of a) {
    let start: Version | null = from;
    while (j < b.length && compareEnds(b[j]!.below, from) <= 0) j += 1;
    for (let k = j; k < b.length && start !== null; k++) {
      const hole = b[k]!;
      if (compareEnds(hole.from, below) >= 0) break;
      if (compareVersions(start, hole.from) < 0) rest.push({ from: start, below: hole.from });
      start = hole.below;
    }
    if (start !== null && compareEnds(start, below) < 0) rest.push({ from: start, below });
  }
  return rest;
}

/** O(log n). */
export function intervalSetContains(set: IntervalSet, version: Version): boolean {
  let low = 0;
  let high = set.length;
  while (low < high) {
    const middle = (low + high) >> 1;
    if (compareVersions(set[middle]!.from, version) <= 0) low = middle + 1;
    else high = middle;
  }
  return low > 0 && compareEnds(version, set[low - 1]!.below) < 0;
}

export function isSameIntervalSet(a: IntervalSet, b: IntervalSet): boolean {
  return (
    a.length === b.length &&
    a.every(
      (x, i) =>
        compareVersions(x.from, b[i]!.from) === 0 && compareEnds(x.below, b[i]!.below) === 0,
    )
  );
}
