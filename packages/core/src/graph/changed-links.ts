import type { AnsweredRequirement, Resolution } from '../resolve/index.js';

/** Who requires what: a project's folder, or name and version of a copy. */
export interface NamedLink {
  readonly from: string;
  readonly to: string;
}

/** Links to copies and projects that a resolution has and another has not, in the order of the former. O(requirements of both). */
export function linksOnlyIn(one: Resolution, other: Resolution | null): readonly NamedLink[] {
  const known = new Set(other === null ? [] : linksOf(other).map(keyOf));
  const found = new Map<string, NamedLink>();
  for (const link of linksOf(one)) {
    const key = keyOf(link);
    if (!known.has(key)) found.set(key, link);
  }
  return [...found.values()];
}

function keyOf({ from, to }: NamedLink): string {
  return `${from}\0${to}`;
}

function linksOf({ projects, copies }: Resolution): readonly NamedLink[] {
  const links: NamedLink[] = [];
  const addAll = (from: string, requirements: readonly AnsweredRequirement[]): void => {
    for (const { name, answer } of requirements) {
      if (answer.kind === 'copy') links.push({ from, to: `${name} ${answer.version}` });
      else if (answer.kind === 'project') links.push({ from, to: answer.folder });
    }
  };
  for (const { folder, requirements, supplied } of projects) {
    addAll(folder, requirements);
    for (const { name, version } of supplied)
      if (version !== null) links.push({ from: folder, to: `${name} ${version}` });
  }
  for (const { name, version, requirements } of copies) addAll(`${name} ${version}`, requirements);
  return links;
}
