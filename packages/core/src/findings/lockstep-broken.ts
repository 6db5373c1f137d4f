import type { LockstepSet } from '../manifest/index.js';
import type { StandingRequirement } from '../alignment/index.js';
import { isSameVersion, rangeContains } from '../version/index.js';
import { projectName, requirementEvidence } from './evidence.js';
import { remedy, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

/** Members of a lockstep set are in use at different versions. */
export const lockstepBroken: FindingRule = {
  kind: 'lockstep-broken',
  severity: 'warning',
  raise: (grounds) =>
    grounds.workspace.shared.lockstep.flatMap((set) => {
      const all = set.packages.flatMap((name) => grounds.standing.get(name) ?? []);
      const out = all.filter(({ standing }) => standing.kind === 'off');
      const versions = [...new Set(all.flatMap(({ answer }) => answer ?? []))].sort();
      if (out.length > 0) return outOfSet(grounds, set, out, versions);
      const inStep = all.filter(({ standing }) => standing.kind !== 'excepted');
      const carried = [...new Set(inStep.flatMap(({ answer }) => answer ?? []))].sort();
      return carried.length > 1 ? apart(grounds, set, inStep, carried) : [];
    }),
};

function outOfSet(
  grounds: Grounds,
  { name: set, text }: LockstepSet,
  out: readonly StandingRequirement[],
  versions: readonly string[],
): readonly FindingDraft[] {
  const projects = [...new Set(out.map(({ requirement }) => requirement.project))].sort();
  const names = projects.map((folder) => projectName(grounds, folder)).join(', ');
  return [
    {
      mark: [set],
      says: `The lockstep set ${set} is agreed at ${text}, and ${names} ${projects.length === 1 ? 'differs' : 'differ'} from it; in use are ${versions.join(' and ')}`,
      evidence: out.map(({ requirement }) => requirementEvidence(grounds, requirement)),
      remedies: [
        remedy(
          `take ${text} in ${names}`,
          ...membersOf(out).map(([name, folders]) => ({
            kind: 'take-shared' as const,
            package: name,
            projects: folders,
          })),
        ),
      ],
    },
  ];
}

/** All take the set's range, and that range left them at several versions. */
function apart(
  grounds: Grounds,
  set: LockstepSet,
  all: readonly StandingRequirement[],
  versions: readonly string[],
): readonly FindingDraft[] {
  const common = commonRelease(grounds, set);
  return [
    {
      mark: [set.name],
      says: `The lockstep set ${set.name} is agreed at ${set.text}, which leaves its packages at ${versions.join(' and ')}`,
      evidence: all.map(({ requirement }) => requirementEvidence(grounds, requirement)),
      remedies:
        common === null
          ? []
          : [
              remedy(`agree on ${common} for all of ${set.name}`, {
                kind: 'make-set',
                set: set.name,
                range: common,
                packages: set.packages,
              }),
            ],
    },
  ];
}

/** The newest version in the set's range that the workspace lets in of each of its packages; null: there is none. */
function commonRelease({ stand, workspace, terms }: Grounds, set: LockstepSet): string | null {
  const versions = set.packages.map((name) => {
    const range = workspace.agreements.get(name)?.range;
    return (stand.records.get(name)?.releases ?? []).filter(
      (release) =>
        range !== undefined && rangeContains(range, release.version) && terms.letsIn(name, release),
    );
  });
  const [first = [], ...others] = versions;
  const common = first.findLast((release) =>
    others.every((list) => list.some((one) => isSameVersion(one.version, release.version))),
  );
  return common === undefined ? null : common.text;
}

function membersOf(
  out: readonly StandingRequirement[],
): readonly (readonly [name: string, projects: readonly string[]])[] {
  const members = new Map<string, string[]>();
  for (const { requirement } of out) {
    if (requirement.isEverywhere) continue;
    const { name, project } = requirement;
    members.set(name, [...(members.get(name) ?? []), project]);
  }
  return [...members].sort(([a], [b]) => (a < b ? -1 : 1));
}
