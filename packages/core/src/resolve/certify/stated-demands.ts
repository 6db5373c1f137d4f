import { type Policy, rangeFor } from '../../manifest/index.js';
import { rangeContains, requireVersion } from '../../version/index.js';
import { copyKey, type AnsweredRequirement, type Resolution } from '../model/resolution.js';

/** A demand as it stands in a resolution. */
export interface StatedDemand {
  /** A project's folder, or name and version of a copy. */
  readonly owner: string;
  /** The kind of the requirement, or `supplied`: a peer that the project got. */
  readonly kind: AnsweredRequirement['kind'] | 'supplied';
  readonly range: string;
}

/** A demand with the targets for which it must be answered: those of its owner that `when` matches. */
interface TargetedDemand extends StatedDemand {
  readonly when: readonly string[];
  readonly ofOwner: readonly string[];
  /** A project requires it itself. */
  readonly isOfProject: boolean;
}

const EVERY_TARGET = ['*'];

/** The demands on each package as a resolution states them. O(requirements). */
export function statedDemands(
  policy: Policy,
  { projects, copies }: Resolution,
): ReadonlyMap<string, readonly TargetedDemand[]> {
  const demands = new Map<string, TargetedDemand[]>();
  const add = (name: string, demand: TargetedDemand): void => {
    const known = demands.get(name);
    if (known === undefined) demands.set(name, [demand]);
    else known.push(demand);
  };
  const addAnswered = (
    owner: string,
    ofOwner: readonly string[],
    isOfProject: boolean,
    { name, kind, range, when, answer }: AnsweredRequirement,
  ): void => {
    if (answer.kind === 'copy' && range !== null)
      add(name, { owner, kind, range, when, ofOwner, isOfProject });
  };
  for (const { folder, requirements, supplied } of projects) {
    for (const requirement of requirements) addAnswered(folder, EVERY_TARGET, true, requirement);
    for (const { name, ranges, version } of supplied) {
      const met = ranges.filter(
        (range) =>
          version !== null && rangeContains(rangeFor(policy, name, range), requireVersion(version)),
      );
      for (const range of met)
        add(name, {
          owner: folder,
          kind: 'supplied',
          range,
          when: [],
          ofOwner: EVERY_TARGET,
          isOfProject: false,
        });
    }
  }
  for (const copy of copies)
    for (const requirement of copy.requirements)
      addAnswered(copyKey(copy), copy.targets, false, requirement);
  return demands;
}
