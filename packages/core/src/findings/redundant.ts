import { redundantLinks, nodeOf, type RedundantLink } from '../graph/index.js';
import { projectName, requirementEvidence } from './evidence.js';
import { remedy, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

/**
 * A project requires what a project that it requires already brings. Not where its source uses the package
 * and policy asks for declared requirements alone, and not for packages that are wanted for their types.
 */
export const redundant: FindingRule = {
  kind: 'redundant',
  weight: 'light',
  raise: (grounds) =>
    grounds.resolution.projects.flatMap(({ folder, requirements }, node) => {
      const requiresProjects = requirements.some(({ answer }) => answer.kind === 'project');
      if (!requiresProjects) return [];
      return redundantLinks(grounds.graph, node).flatMap((link) => raise(grounds, folder, link));
    }),
};

function raise(grounds: Grounds, folder: string, link: RedundantLink): readonly FindingDraft[] {
  const { graph, resolution, stand, workspace } = grounds;
  const by = nodeOf(graph, link.by);
  const answered = resolution.projects[link.owner]!.requirements[graph.requirements[link.link]!];
  if (by.kind !== 'project' || answered === undefined || answered.kind === 'peer') return [];
  const requirement = grounds
    .project(folder)
    ?.requirements.find(({ kind, name }) => kind === answered.kind && name === answered.name);
  if (requirement === undefined || requirement.isEverywhere) return [];
  const { name } = requirement;
  if (workspace.policy.transitiveUse === 'declared-only') {
    const use = stand.use?.get(folder);
    if (use === undefined || use.references.has(name)) return [];
    if (grounds.project(folder)!.implicit.includes(name)) return [];
  }
  const their = by.project.requirements.find((one) => one.name === name);
  const difference =
    their === undefined || their.range === answered.range
      ? 'in the same range'
      : `in another range: ${answered.range} here, ${their.range} there`;
  const theirRequirement = grounds
    .project(by.project.folder)
    ?.requirements.find((one) => one.name === name);
  return [
    {
      project: folder,
      package: name,
      says: `${projectName(grounds, folder)} requires ${name}, which ${by.project.name} brings anyway${
        their === undefined ? ', through others' : `, ${difference}`
      }`,
      evidence: [
        requirementEvidence(grounds, requirement),
        ...(theirRequirement === undefined ? [] : [requirementEvidence(grounds, theirRequirement)]),
      ],
      remedies: [
        remedy('remove the requirement', {
          kind: 'remove-requirement',
          package: name,
          projects: [folder],
        }),
      ],
    },
  ];
}
