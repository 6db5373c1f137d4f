import { policyOf, type Policy } from '../manifest/index.js';
import { rangeContains, requireRange, requireVersion } from '../version/index.js';
import { copyKey, type AnsweredRequirement, type Resolution } from './resolution.js';

/** A demand as it stands in a resolution. */
export interface StatedDemand {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  /** Of a requirement, or `supplied`: a peer that the project got. */
  readonly kind: AnsweredRequirement['kind'] | 'supplied';
  readonly range: string;
}

/** The demands on each package as a resolution states them. O(requirements). */
export function statedDemands(
  policy: Policy,
  { projects, copies }: Resolution,
): ReadonlyMap<string, readonly (StatedDemand & { readonly when: readonly string[] })[]> {
  const demands = new Map<string, (StatedDemand & { readonly when: readonly string[] })[]>();
  const add = (owner: string, requirement: AnsweredRequirement): void => {
    const { name, kind, range, when, answer } = requirement;
    if (answer.kind !== 'copy' || range === null) return;
    const known = demands.get(name);
    const demand = { owner, kind, range, when };
    if (known === undefined) demands.set(name, [demand]);
    else known.push(demand);
  };
  for (const { folder, requirements, supplied } of projects) {
    for (const requirement of requirements) add(folder, requirement);
    for (const { name, ranges, version } of supplied) {
      const { prereleases } = policyOf(policy, name);
      const met = ranges.filter(
        (range) =>
          version !== null &&
          rangeContains(requireRange(range, prereleases), requireVersion(version)),
      );
      const known = demands.get(name) ?? [];
      demands.set(name, known);
      for (const range of met) known.push({ owner: folder, kind: 'supplied', range, when: [] });
    }
  }
  for (const copy of copies)
    for (const requirement of copy.requirements) add(copyKey(copy), requirement);
  return demands;
}
