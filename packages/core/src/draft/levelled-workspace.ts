import { rangeFor } from '../manifest/index.js';
import type { Agreement, Meaning, Project, Requirement, Workspace } from '../workspace/index.js';
import type { LevelStep } from '../edit/index.js';

/**
 * The workspace as it would be read after levelling a package, made from the model instead of the files.
 * O(requirements); projects that it does not touch are the same objects.
 */
export function levelledWorkspace(
  workspace: Workspace,
  name: string,
  { range: text, takers }: LevelStep,
): Workspace {
  const set = workspace.agreements.get(name)?.set ?? null;
  const members =
    set === null
      ? [name]
      : [...workspace.agreements].flatMap(([one, { set: of }]) => (of === set ? [one] : []));
  const agreements = new Map(workspace.agreements);
  for (const member of members) agreements.set(member, agreement(workspace, member, text, set));
  const change = (requirement: Requirement): Requirement => {
    const agreed = members.includes(requirement.name) ? agreements.get(requirement.name)! : null;
    if (agreed === null || requirement.meaning.kind === 'project') return requirement;
    const meaning: Meaning = { kind: 'range', text, range: agreed.range };
    const isEverywhere = requirement.isEverywhere && requirement.name === name && set === null;
    if (isEverywhere) return { ...requirement, written: text, meaning };
    if (requirement.isEverywhere) return requirement;
    if (requirement.written === 'shared') return { ...requirement, meaning };
    const takes = requirement.name === name && takers.includes(requirement.project);
    return takes ? { ...requirement, written: 'shared', meaning } : requirement;
  };
  const isMeant = ({ requirements }: Project): boolean =>
    requirements.some((one) => members.includes(one.name));
  const projects = workspace.projects.map((project) =>
    isMeant(project) ? { ...project, requirements: project.requirements.map(change) } : project,
  );
  return { ...workspace, agreements, projects };
}

function agreement(
  workspace: Workspace,
  name: string,
  text: string,
  set: string | null,
): Agreement {
  return { text, range: rangeFor(workspace.policy, name, text), set };
}
