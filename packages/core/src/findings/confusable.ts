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
    byLook.set(look, [...(byLook.get(look) ?? []), name]);
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
  return nearNames([...projectsOf.keys()]).flatMap(([a, b]): FindingDraft[] => {
    const [few, many] = projectsOf.get(a)! < projectsOf.get(b)! ? [a, b] : [b, a];
    const [fewProjects, manyProjects] = [projectsOf.get(few)!, projectsOf.get(many)!];
    if (manyProjects < MANY_PROJECTS || manyProjects < MANY_TIMES * fewProjects) return [];
    return [
      {
        package: few,
        mark: [many],
        says: `${few} is one letter away from ${many}, which ${manyProjects} projects require; is it meant?`,
        evidence: requiredBy(grounds, few),
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
  const byRest = new Map<string, string[]>();
  for (const name of names) {
    if (name.length < SHORTEST) continue;
    const rests = new Set([name]);
    for (let i = 0; i < name.length; i++) rests.add(name.slice(0, i) + name.slice(i + 1));
    for (const rest of rests) byRest.set(rest, [...(byRest.get(rest) ?? []), name]);
  }
  const pairs = new Map<string, readonly [string, string]>();
  for (const group of byRest.values()) {
    for (const [i, a] of group.entries())
      for (const b of group.slice(i + 1)) {
        const pair = a < b ? ([a, b] as const) : ([b, a] as const);
        if (isOneEdit(...pair)) pairs.set(pair.join(' '), pair);
      }
  }
  return [...pairs.values()];
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
