import { minimumHittingSet } from '../resolve/index.js';

/** How a part of all comes out when it is tried. */
export interface PartTrial {
  readonly isGood: boolean;
  /** All that the part touches. Parts that touch nothing in common have the same result together as each by itself. */
  readonly touched: ReadonlySet<string>;
}

/** Groups of no more than this are tried in every way. */
const MOST_EXACT = 8;

/**
 * The largest part of some things that is good when it is taken together, as the numbers of its members, ascending; of
 * equally large ones that with earlier members.
 *
 * Things that share nothing are looked at apart. A group of at most eight is tried in every way, largest parts first, so it
 * is exact. Of a larger group those that are bad by themselves are left out at first; as long as the rest is not good, a smallest
 * bad part of it is found by taking away what it does not need, and the next trial leaves out a minimum hitting set of the bad
 * parts found so far (R. Reiter, A theory of diagnosis from first principles, 1987). What was left out is then tried beside the rest
 * once more. That is exact where a bad part stays bad with more beside it.
 * @param tryPart pure; called with ascending numbers
 * @param best hears of each better part as it is found
 * @param tryAlone the same for one, where that is known already
 */
export function largestPart(
  count: number,
  tryPart: (part: readonly number[]) => PartTrial,
  best: (part: readonly number[]) => void = () => undefined,
  tryAlone: (one: number) => PartTrial = (one) => tryPart([one]),
): readonly number[] {
  const all = Array.from({ length: count }, (_, i) => i);
  if (count === 0) return all;
  const whole = tryPart(all);
  if (whole.isGood) {
    best(all);
    return all;
  }
  const alone = all.map((one) => tryAlone(one));
  const badAlone = new Set(all.filter((one) => !alone[one]!.isGood));
  const isGood = (part: readonly number[]): boolean =>
    part.length === 0 || (part.length === 1 ? !badAlone.has(part[0]!) : tryPart(part).isGood);
  let found: readonly number[] = [];
  const take = (part: readonly number[]): void => {
    if (part.length > found.length) best(part);
    found = part;
  };
  // Parts of groups are good each by itself. That they are so together is tried for ever more of them at once.
  let [taken, waiting]: [number, (readonly number[])[]] = [0, []];
  const groups = groupsOf(alone.map(({ touched }) => touched));
  for (const [i, group] of groups.entries()) {
    const part =
      group.length <= MOST_EXACT ? exactly(group, isGood) : nearly(group, badAlone, isGood);
    if (part.length > 0) waiting.push(part);
    if (waiting.length === 0 || (waiting.length < taken && i < groups.length - 1)) continue;
    join(waiting);
    taken += waiting.length;
    waiting = [];
  }
  return found;

  /** Groups may have to do with each other after all, where trials by one did not show it. */
  function join(parts: readonly (readonly number[])[]): void {
    const joined = ascending([...found, ...parts.flat()]);
    if (found.length === 0 && parts.length === 1) take(joined);
    else if (isGood(joined)) take(joined);
    else if (parts.length === 1) take(nearly(joined, badAlone, isGood));
    else {
      const half = parts.length >> 1;
      join(parts.slice(0, half));
      join(parts.slice(half));
    }
  }
}

/** Numbers of things that have to do with each other, directly or through others. */
function groupsOf(touched: readonly ReadonlySet<string>[]): readonly (readonly number[])[] {
  const groupOf = touched.map((_, i) => i);
  const find = (i: number): number => (groupOf[i] === i ? i : (groupOf[i] = find(groupOf[i]!)));
  const owner = new Map<string, number>();
  touched.forEach((names, i) => {
    for (const name of names) {
      const other = owner.get(name);
      if (other === undefined) owner.set(name, i);
      else groupOf[find(i)] = find(other);
    }
  });
  const groups = new Map<number, number[]>();
  touched.forEach((_, i) => groups.set(find(i), [...(groups.get(find(i)) ?? []), i]));
  return [...groups.values()].sort((a, b) => a.length - b.length || a[0]! - b[0]!);
}

function exactly(
  group: readonly number[],
  isGood: (part: readonly number[]) => boolean,
): readonly number[] {
  for (let size = group.length; size > 0; size--)
    for (const part of partsOf(group, size)) if (isGood(part)) return part;
  return [];
}

/** All parts of a size, those with earlier members first. */
function* partsOf(group: readonly number[], size: number): Generator<readonly number[]> {
  if (size === 0) return yield [];
  for (let i = 0; i + size <= group.length; i++)
    for (const rest of partsOf(group.slice(i + 1), size - 1)) yield [group[i]!, ...rest];
}

function nearly(
  group: readonly number[],
  badAlone: ReadonlySet<number>,
  isGood: (part: readonly number[]) => boolean,
): readonly number[] {
  const bad: (readonly number[])[] = group.filter((one) => badAlone.has(one)).map((one) => [one]);
  let part: readonly number[] = group.filter((one) => !badAlone.has(one));
  while (!isGood(part)) {
    bad.push(smallestBad(part, isGood));
    const out = new Set(minimumHittingSet(bad));
    part = group.filter((one) => !out.has(one));
  }
  for (const one of group) {
    if (part.includes(one)) continue;
    const more = ascending([...part, one]);
    if (isGood(more)) part = more;
  }
  return part;
}

/**
 * A bad part of which no half, quarter and so on can be taken away without making it good.
 * Source: A. Zeller, R. Hildebrandt, Simplifying and Isolating Failure-Inducing Input, 2002 (ddmin, complements alone).
 */
function smallestBad(
  whole: readonly number[],
  isGood: (part: readonly number[]) => boolean,
): readonly number[] {
  let part = whole;
  for (
    let size = Math.ceil(part.length / 2);
    size >= 1;
    size = size === 1 ? 0 : Math.ceil(size / 2)
  ) {
    for (let at = 0; at < part.length;) {
      const rest = [...part.slice(0, at), ...part.slice(at + size)];
      if (rest.length > 0 && !isGood(rest)) part = rest;
      else at += size;
    }
  }
  return part;
}

function ascending(numbers: readonly number[]): readonly number[] {
  return [...numbers].sort((a, b) => a - b);
}
