import { projectCycles } from '../graph/index.js';
import { requirementEvidence } from './evidence.js';
import { remedy, type FindingRule } from './finding.js';

/** Projects that require each other in a cycle. */
export const cycle: FindingRule = {
  kind: 'cycle',
  severity: 'warning',
  raise: (grounds) =>
    projectCycles(grounds.graph).map((cycle) => {
      const folders = cycle.map((node) => grounds.resolution.projects[node]!.folder);
      const members = folders.flatMap((folder) => grounds.project(folder) ?? []);
      const links = members.flatMap(({ requirements }) =>
        requirements.filter(
          ({ meaning }) => meaning.kind === 'project' && folders.includes(meaning.folder),
        ),
      );
      const names = new Map(members.map(({ folder, name }) => [folder, name]));
      return {
        mark: folders,
        says:
          members.length === 1
            ? `${members[0]!.name} requires itself`
            : `${members.map(({ name }) => name).join(', ')} require each other in a cycle`,
        evidence: links.map((link) => requirementEvidence(grounds, link)),
        remedies: links.map((link) =>
          remedy(`remove ${link.name} from ${names.get(link.project)}`, {
            kind: 'remove-requirement',
            package: link.name,
            projects: [link.project],
          }),
        ),
      };
    }),
};
