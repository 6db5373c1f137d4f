import type { Project, Requirement } from '../workspace/index.js';
import { requirementEvidence } from './evidence.js';
import { remedy, type FindingDraft, type FindingRule } from './finding.js';
import type { Grounds } from './grounds.js';

/**
 * A project requires what a project that it requires, directly or through others, already requires for more
 * than its own development. Not where its source uses the package and policy asks for declared requirements
 * alone.
 */
export const redundant: FindingRule = {
  kind: 'redundant',
  severity: 'note',
  raise: (grounds) =>
    grounds.workspace.projects.flatMap((project) => {
      const brought = broughtTo(grounds, project);
      return brought.size === 0
        ? []
        : project.requirements.flatMap((one) =>
            raise(grounds, project, one, brought.get(one.name) ?? null),
          );
    }),
};

interface Brought {
  readonly by: Project;
  readonly requirement: Requirement;
}

/** What comes with the projects that one requires, by package: from the nearest of them. */
function broughtTo(grounds: Grounds, project: Project): ReadonlyMap<string, Brought> {
  const brought = new Map<string, Brought>();
  const seen = new Set([project.folder]);
  const open = [project];
  for (const next of open) {
    for (const requirement of next.requirements) {
      const { meaning, kind, name } = requirement;
      const isForOthers = kind === 'runtime' || kind === 'optional';
      if (next !== project && isForOthers && !brought.has(name))
        brought.set(name, { by: next, requirement });
      if (meaning.kind !== 'project' || !isForOthers || seen.has(meaning.folder)) continue;
      seen.add(meaning.folder);
      const other = grounds.project(meaning.folder);
      if (other !== null) open.push(other);
    }
  }
  return brought;
}

function raise(
  grounds: Grounds,
  { folder, name: projectName, implicit }: Project,
  requirement: Requirement,
  brought: Brought | null,
): readonly FindingDraft[] {
  const { name, kind, meaning, isEverywhere } = requirement;
  if (brought === null || isEverywhere || kind === 'peer') return [];
  if (grounds.workspace.policy.transitiveUse === 'declared-only') {
    const use = grounds.stand.use?.get(folder);
    if (use === undefined || use.references.has(name) || implicit.includes(name)) return [];
  }
  const { by, requirement: theirs } = brought;
  const here = meaning.kind === 'range' ? meaning.text : null;
  const there = theirs.meaning.kind === 'range' ? theirs.meaning.text : null;
  const ranges =
    here === there ? 'in the same range' : `in another range: ${here} here, ${there} there`;
  return [
    {
      project: folder,
      package: name,
      says: `${projectName} requires ${name}, which ${by.name} brings anyway, ${ranges}`,
      evidence: [requirementEvidence(grounds, requirement), requirementEvidence(grounds, theirs)],
      remedies: [
        remedy(`remove ${name} from ${projectName}`, {
          kind: 'remove-requirement',
          package: name,
          projects: [folder],
        }),
      ],
    },
  ];
}
