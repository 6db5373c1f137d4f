import { demandsEvidence, projectName, requirementEvidence } from './evidence.js';
import { remedy, type FindingRule } from './finding.js';

/** A requirement differs from the shared version without a valid exception. */
export const outOfLine: FindingRule = {
  kind: 'out-of-line',
  severity: 'warning',
  raise: (grounds) =>
    [...grounds.standing.values()].flatMap((list) =>
      list
        .filter(({ standing }) => standing.kind === 'off')
        .map(({ requirement, text }) => {
          const { project, name } = requirement;
          const agreed = grounds.workspace.agreements.get(name)!.text;
          return {
            project,
            package: name,
            says: `${projectName(grounds, project)} asks for ${name} ${text}; ${agreed} is agreed`,
            evidence: [requirementEvidence(grounds, requirement), demandsEvidence(name)],
            remedies: requirement.isEverywhere
              ? []
              : [
                  remedy(`take ${name} ${agreed} in ${projectName(grounds, project)}`, {
                    kind: 'take-shared',
                    package: name,
                    projects: [project],
                  }),
                ],
          };
        }),
    ),
};
