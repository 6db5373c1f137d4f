import { rangeFor } from '../manifest/index.js';
import type { Agreement, Meaning, Project, Requirement, Workspace } from '../workspace/index.js';
import type { LevelStep } from '../edit/index.js';

/** What levelling a package changes in the model. */
export interface Levelling {
  /** Of the package, and of all of its lockstep set. */
  readonly agreements: ReadonlyMap<string, Agreement>;
  /** A project afterwards; the same object where it is not touched. O(its requirements). */
  readonly project: (project: Project) => Project;
}

/** O(agreements). */
export function levelling(
  workspace: Workspace,
  name: string,
  { range: text, takers }: LevelStep,
): Levelling {
  const set = workspace.agreements.get(name)?.set ?? null;
  const members =
    set === null
      ? [name]
      : [...workspace.agreements].flatMap(([one, { set: of }]) => (of === set ? [one] : []));
  const agreements = new Map(
    members.map((member) => [
      member,
      { text, range: rangeFor(workspace.policy, member, text), set },
    ]),
  );
  const change = (requirement: Requirement): Requirement => {
    const agreed = agreements.get(requirement.name);
    if (agreed === undefined || requirement.meaning.kind === 'project') return requirement;
    const meaning: Meaning = { kind: 'range', text, range: agreed.range };
    const isEverywhere = requirement.isEverywhere && requirement.name === name && set === null;
    if (isEverywhere) return { ...requirement, written: text, meaning };
    if (requirement.isEverywhere) return requirement;
    if (requirement.written === 'shared') return { ...requirement, meaning };
    const takes = requirement.name === name && takers.includes(requirement.project);
    return takes ? { ...requirement, written: 'shared', meaning } : requirement;
  };
  return {
    agreements,
    project: (project) =>
      project.requirements.some((one) => agreements.has(one.name))
        ? { ...project, requirements: project.requirements.map(change) }
        : project,
  };
}

/**
 * The workspace as it would be read after levelling a package, made from the model instead of the files.
 * O(requirements); projects that it does not touch are the same objects.
 */
export function levelledWorkspace(workspace: Workspace, name: string, step: LevelStep): Workspace {
  const { agreements, project } = levelling(workspace, name, step);
  return {
    ...workspace,
    agreements: new Map([...workspace.agreements, ...agreements]),
    projects: workspace.projects.map(project),
  };
}
