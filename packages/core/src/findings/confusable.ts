import { requirementEvidence } from './evidence.js';
import type { FindingDraft, FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

/** A name as short as this is often within one edit of another. */
const SHORTEST = 5;
/** The other name must be required by so many times as many projects. */
const MANY_TIMES = 3;
const MANY_PROJECTS = 3;

/**
 * Names that people take for each other: such as differ only in case or in `-`, `_` and `.`, and one that few projects
 * require beside one that is a single edit away and that many do.
 * O(characters of all names).
 */
export const confusable: FindingRule = {
  kind: 'confusable',
  severity: 'warning',
  raise: (grounds) => [...alike(grounds), ...misspelt(grounds)],
};

function alike(grounds: Grounds): readonly FindingDraft[] {
  const names = new Set([
    ...grounds.standing.keys(),
    ...grounds.workspace.projects.map(({ name }) => name),
    ...grounds.resolution.copies.map(({ name }) => name),
  ]);
  const byLook = new Map<string, string[]>();
  for (const name of names) {
    const look = name.toLowerCase().replace(/[-_.]/g, '-');
    push(byLook, look, name);
  }
  return [...byLook.values()].flatMap((group): FindingDraft[] => {
    if (group.length < 2) return [];
    const [first, ...others] = group.sort();
    return [
      {
        package: first!,
        mark: others,
        says: `${group.join(' and ')} differ only in case or in - _ . and are easily taken for each other`,
        evidence: group.flatMap((name) => requiredBy(grounds, name)),
      },
    ];
  });
}

/** One finding for each name that may be meant otherwise, however many it is near to. */
function misspelt(grounds: Grounds): readonly FindingDraft[] {
  const projectsOf = new Map<string, number>();
  for (const [name, list] of grounds.standing)
    projectsOf.set(name, new Set(list.map(({ requirement }) => requirement.project)).size);
  const counts = [...projectsOf.values()];
  const isFarAbove = (many: number, few: number): boolean =>
    many >= MANY_PROJECTS && many >= MANY_TIMES * few;
  const near = nearNames([...projectsOf.keys()], (i, j) =>
    isFarAbove(Math.max(counts[i]!, counts[j]!), Math.min(counts[i]!, counts[j]!)),
  );
  const meant = new Map<string, string[]>();
  for (const [a, b] of near) {
    const [few, many] = projectsOf.get(a)! < projectsOf.get(b)! ? [a, b] : [b, a];
    push(meant, few, many);
  }
  return [...meant].map(([few, names]) => {
    names.sort((a, b) => projectsOf.get(b)! - projectsOf.get(a)! || (a < b ? -1 : 1));
    const [most, ...others] = names as [string, ...string[]];
    const also =
      others.length === 0
        ? ''
        : others.length === 1
          ? `, and from ${others[0]}`
          : `, and from ${others.length} more names`;
    return {
      package: few,
      says: `${few} is one letter away from ${most}, which ${projectsOf.get(most)!} projects require${also}; is it meant?`,
      evidence: requiredBy(grounds, few),
    };
  });
}

function requiredBy(grounds: Grounds, name: string): FindingDraft['evidence'] {
  return (grounds.standing.get(name) ?? []).map(({ requirement }) =>
    requirementEvidence(grounds, requirement),
  );
}

/** Room for a name's place beside the hash of one of its rests in one exact number. */
const PLACES = 2 ** 20;
const BASE = 0x01000193;

/**
 * Pairs of names that one edit leads from one to the other: a letter more, less or another, or two beside each other
 * that have changed places. Two such names have a text in common that lacks at most one letter of each; names are put
 * together by hashes of those texts, and then compared.
 * Source: the deletion neighbourhood of T. Bocek, E. Hunt and B. Stiller, Fast Similarity Search in Large Dictionaries, 2007;
 * hashes of all texts that lack a letter from those of what is before and behind it, as R. Karp and M. Rabin, 1987.
 * @param names fewer than a million
 * @param matters whether two names, by their places, are compared at all
 * Cost: O(n log n) for n letters, and a comparison for each two names with a text in common.
 */
export function nearNames(
  names: readonly string[],
  matters: (first: number, second: number) => boolean = () => true,
): readonly (readonly [string, string])[] {
  const rests = restsOf(names);
  const pairs: (readonly [string, string])[] = [];
  const seen = new Set<number>();
  for (let start = 0; start < rests.length;) {
    const hash = Math.floor(rests[start]! / PLACES);
    let end = start + 1;
    while (Math.floor(rests[end]! / PLACES) === hash) end += 1;
    for (let i = start + 1; i < end; i++)
      for (let j = start; j < i; j++) {
        const [first, second] = [rests[j]! % PLACES, rests[i]! % PLACES];
        const pair = first * names.length + second;
        if (first === second || !matters(first, second) || seen.has(pair)) continue;
        seen.add(pair);
        const [a, b] = [names[first]!, names[second]!];
        if (isOneEdit(a, b)) pairs.push(a < b ? [a, b] : [b, a]);
      }
    start = end;
  }
  return pairs;
}

/** Of each long name the hashes of itself and of it without one letter, each with the name's place; sorted. */
function restsOf(names: readonly string[]): Float64Array {
  const long = names.flatMap((name, i) => (name.length < SHORTEST ? [] : [i]));
  const rests = new Float64Array(long.reduce((sum, i) => sum + names[i]!.length + 1, 0));
  let at = 0;
  for (const i of long) {
    const name = names[i]!;
    const put = (hash: number): void => {
      rests[at++] = (hash >>> 0) * PLACES + i;
    };
    // What is before each letter.
    const before = [0];
    for (let k = 0; k < name.length; k++)
      before.push((Math.imul(before[k]!, BASE) + name.charCodeAt(k)) | 0);
    put(before[name.length]!);
    // From the end: what is behind the letter that is left out, and how far that moves up what is before it.
    let [behind, moved] = [0, 1];
    for (let k = name.length - 1; k >= 0; k--) {
      put(Math.imul(before[k]!, moved) + behind);
      behind = (Math.imul(name.charCodeAt(k), moved) + behind) | 0;
      moved = Math.imul(moved, BASE);
    }
  }
  return rests.sort();
}

function push<T>(lists: Map<string, T[]>, key: string, value: T): void {
  const list = lists.get(key);
  if (list === undefined) lists.set(key, [value]);
  else list.push(value);
}

/** Texts with a rest in common may also be two edits apart. */
function isOneEdit(a: string, b: string): boolean {
  let start = 0;
  while (start < a.length && a[start] === b[start]) start += 1;
  let end = 0;
  while (
    end < Math.min(a.length, b.length) - start &&
    a[a.length - 1 - end] === b[b.length - 1 - end]
  )
    end += 1;
  const [mid, other] = [a.slice(start, a.length - end), b.slice(start, b.length - end)];
  // Names that differ in a number alone are meant to.
  if (/^\d*$/.test(mid + other)) return false;
  if (mid.length <= 1 && other.length <= 1) return true;
  return mid.length === 2 && mid === [...other].reverse().join('');
}
