import { projectName, requirementEvidence } from './evidence.js';
import type { Edit } from '../edit/index.js';
import { decision, remedy, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';
import type { Requirement } from '../workspace/index.js';

/**
 * Nothing in a project's source refers to a package that it requires. Packages named under `implicit` count as used.
 */
export const unused: FindingRule = {
  kind: 'unused',
  severity: 'warning',
  raise: (grounds) =>
    grounds.workspace.projects.flatMap((project) => {
      const use = grounds.stand.use?.get(project.folder);
      // A project without any source that can be read says nothing about what it uses.
      if (use === undefined || use.files === 0) return [];
      const isUsed = ({ name, kind, isEverywhere }: Requirement): boolean =>
        isEverywhere ||
        kind === 'peer' ||
        use.references.has(name) ||
        project.implicit.includes(name);
      return project.requirements
        .filter((requirement) => !isUsed(requirement))
        .map((requirement): FindingDraft => {
          // Test runners, bundlers and packages of types are required for development and imported by nobody.
          const isPerhaps = requirement.kind === 'dev';
          const remove: Edit = {
            kind: 'remove-requirement',
            package: requirement.name,
            projects: [project.folder],
          };
          const cure = `remove ${requirement.name} from ${project.name}`;
          return {
            project: project.folder,
            package: requirement.name,
            says: isPerhaps
              ? `${requirement.name} is perhaps unused: ${project.name} requires it for development, and nothing in its source refers to it; ${scanned(grounds, project.folder)}`
              : `Nothing in ${project.name}'s source refers to ${requirement.name}: ${scanned(grounds, project.folder)}`,
            severity: isPerhaps || use.unseen.length > 0 ? 'note' : 'warning',
            evidence: [
              requirementEvidence(grounds, requirement),
              ...use.unseen.slice(0, 5).map(({ file, line, what, text }) => ({
                kind: 'place' as const,
                says: what === 'computed' ? `cannot be read: ${text}` : text,
                place: { file, line, column: 1 },
              })),
            ],
            remedies: [
              isPerhaps ? decision(cure, remove) : remedy(cure, remove),
              decision(`${project.name} uses ${requirement.name} where no scan can see it`, {
                kind: 'believe-use',
                package: requirement.name,
                project: project.folder,
              }),
            ],
          };
        });
    }),
};

function scanned(grounds: Grounds, folder: string): string {
  const { files, unseen } = grounds.stand.use!.get(folder)!;
  const read = `${files} ${files === 1 ? 'file' : 'files'} of ${projectName(grounds, folder)} read`;
  if (unseen.length === 0) return read;
  return `${read}, ${unseen.length} ${unseen.length === 1 ? 'place' : 'places'} could not be`;
}
