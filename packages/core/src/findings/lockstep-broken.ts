import { projectName, requirementEvidence } from './evidence.js';
import { remedy, type FindingRule } from './finding.js';
import type { StandingRequirement } from '../sheet/index.js';

/** Members of a lockstep set are in use at different versions. */
export const lockstepBroken: FindingRule = {
  kind: 'lockstep-broken',
  weight: 'plain',
  raise: (grounds) =>
    grounds.workspace.shared.lockstep.flatMap(({ name: set, packages, text }) => {
      const all = packages.flatMap((name) => grounds.standing.get(name) ?? []);
      const out = all.filter(({ standing }) => standing.kind === 'off');
      const versions = [...new Set(all.flatMap(({ answer }) => answer ?? []))].sort();
      if (out.length === 0) return [];
      const projects = [...new Set(out.map(({ requirement }) => requirement.project))].sort();
      const names = projects.map((folder) => projectName(grounds, folder)).join(', ');
      return [
        {
          mark: set,
          says: `The lockstep set ${set} is agreed at ${text}, and ${names} ${projects.length === 1 ? 'departs' : 'depart'} from it; in use are ${versions.join(' and ')}`,
          evidence: out.map(({ requirement }) => requirementEvidence(grounds, requirement)),
          remedies: [
            remedy(
              `let ${names} take ${text}`,
              ...membersOf(out).map(([name, folders]) => ({
                kind: 'take-shared' as const,
                package: name,
                projects: folders,
              })),
            ),
          ],
        },
      ];
    }),
};

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
