import { REQUIREMENT_KINDS } from '../../manifest/index.js';
import type { Requirement } from '../../workspace/index.js';
import type { RootDemand } from '../policy/search-model.js';

export function rangeText({ meaning }: Requirement): string {
  return meaning.kind === 'range' ? meaning.text : '*';
}

/** The requirement with its place, for the head of an explanation. */
export function requirementWords(requirement: Requirement): string {
  const { file, line, name, written, isEverywhere } = requirement;
  const range = rangeText(requirement);
  const asked = written === 'shared' ? `the shared version ${range}` : range;
  const whom = isEverywhere ? ' of every project' : '';
  return `${file}:${line} requires ${name} ${asked}${whom}`;
}

export function sameAsked(more: number): string {
  return more === 1
    ? 'One more requirement asks for the same'
    : `${more} more requirements ask for the same`;
}

export function rootWords({ requirements }: RootDemand): string {
  const [first, ...others] = [...requirements].sort(byPlace);
  const more = others.length === 0 ? '' : ` (${sameAsked(others.length).toLowerCase()})`;
  return `${requirementWords(first!)}${more}`;
}

/** By file, then kind. */
export function byPlace(a: Requirement, b: Requirement): number {
  if (a.file !== b.file) return a.file < b.file ? -1 : 1;
  return REQUIREMENT_KINDS.indexOf(a.kind) - REQUIREMENT_KINDS.indexOf(b.kind);
}
