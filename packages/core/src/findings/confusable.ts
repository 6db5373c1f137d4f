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

function misspelt(grounds: Grounds): readonly FindingDraft[] {
  const projectsOf = new Map(
    [...grounds.standing].map(([name, list]) => [
      name,
      new Set(list.map(({ requirement }) => requirement.project)).size,
    ]),
  );
  const evidence = new Map<string, FindingDraft['evidence']>();
  return nearNames([...projectsOf.keys()]).flatMap(([a, b]): FindingDraft[] => {
    const [few, many] = projectsOf.get(a)! < projectsOf.get(b)! ? [a, b] : [b, a];
    const [fewProjects, manyProjects] = [projectsOf.get(few)!, projectsOf.get(many)!];
    if (manyProjects < MANY_PROJECTS || manyProjects < MANY_TIMES * fewProjects) return [];
    if (!evidence.has(few)) evidence.set(few, requiredBy(grounds, few));
    return [
      {
        package: few,
        mark: [many],
        says: `${few} is one letter away from ${many}, which ${manyProjects} projects require; is it meant?`,
        evidence: evidence.get(few)!,
      },
    ];
  });
}

function requiredBy(grounds: Grounds, name: string): FindingDraft['evidence'] {
  return (grounds.standing.get(name) ?? []).map(({ requirement }) =>
    requirementEvidence(grounds, requirement),
  );
}

/**
 * Pairs of names that one edit leads from one to the other: a letter more, less or another, or two beside each other
 * that have changed places. Two such names have a text in common that lacks at most one letter of each.
 * Source: the deletion neighbourhood of T. Bocek, E. Hunt and B. Stiller, Fast Similarity Search in Large Dictionaries, 2007.
 */
export function nearNames(names: readonly string[]): readonly (readonly [string, string])[] {
  const byRest = new Map<string, number[]>();
  names.forEach((name, i) => {
    if (name.length < SHORTEST) return;
    const rests = new Set([name]);
    for (let at = 0; at < name.length; at++) rests.add(name.slice(0, at) + name.slice(at + 1));
    for (const rest of rests) push(byRest, rest, i);
  });
  const pairs: (readonly [string, string])[] = [];
  const seen = new Set<number>();
  for (const group of byRest.values()) {
    for (let i = 1; i < group.length; i++)
      for (let j = 0; j < i; j++) {
        const pair = group[j]! * names.length + group[i]!;
        if (seen.has(pair)) continue;
        seen.add(pair);
        const [a, b] = [names[group[j]!]!, names[group[i]!]!];
        if (isOneEdit(a, b)) pairs.push(a < b ? [a, b] : [b, a]);
      }
  }
  return pairs;
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
