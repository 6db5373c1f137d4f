import { believeUse } from '../manifest/index.js';
import { isName, NAME_WORDS } from '../text/index.js';
import type { Project } from '../workspace/index.js';
import type { Edit } from '../edit/index.js';
import type { EditedFiles } from './edited-files.js';

type RequirementEdit = Extract<
  Edit,
  { kind: 'set-range' | 'add-requirement' | 'remove-requirement' | 'change-kind' }
>;

type BeliefEdit = Extract<Edit, { kind: 'believe-use' }>;

/** Edits of single requirements, in one project or several. */
export function applyRequirementEdit(files: EditedFiles, edit: RequirementEdit | BeliefEdit): void {
  if (edit.kind === 'believe-use') return believe(files, edit);
  if (edit.kind === 'add-requirement' && !isGoodAddition(files, edit)) return;
  if (edit.kind === 'set-range' && !files.isRange(edit.range, edit.package)) return;
  for (const project of files.projectsIn(edit.projects)) inProject(files, project, edit);
}

function inProject(files: EditedFiles, project: Project, edit: RequirementEdit): void {
  const name = edit.package;
  if (edit.kind === 'add-requirement') {
    const there = project.requirements.find(
      (one) =>
        one.name === name &&
        !one.isEverywhere &&
        (one.kind === edit.as || (one.kind !== 'peer' && edit.as !== 'peer')),
    );
    if (there !== undefined) {
      return files.refuse(
        'EDIT_ALREADY_THERE',
        `${project.name} requires ${name} already (${there.kind}).`,
      );
    }
    return files.addRequirement(project, edit.as, name, edit.range);
  }
  const own = files.ownRequirements(project, name);
  for (const { kind, written } of own) {
    switch (edit.kind) {
      case 'set-range':
        files.setRequirement(project, kind, name, edit.range);
        break;
      case 'remove-requirement':
        files.removeRequirement(project, kind, name);
        break;
      case 'change-kind':
        if (own.length > 1) {
          return files.refuse(
            'EDIT_VALUE_INVALID',
            `${project.name} requires ${name} both as ${own.map((one) => one.kind).join(' and ')}. Remove one of them first.`,
          );
        }
        if (kind !== edit.as) files.moveRequirement(project, kind, edit.as, name, written);
        break;
    }
  }
}

function believe(files: EditedFiles, { package: name, project: folder }: BeliefEdit): void {
  for (const project of files.projectsIn([folder])) {
    if (!isName(name))
      files.refuse('EDIT_NAME_INVALID', `"${name}" is no name of a package. ${NAME_WORDS}`);
    if (project.foreign.length > 0)
      return files.refuse(
        'EDIT_VALUE_INVALID',
        `${project.file} has no place that says what is used without being seen. Mute the finding instead.`,
      );
    files.change(project.file, [believeUse(name, project.implicit)]);
  }
}

function isGoodAddition(
  files: EditedFiles,
  { package: name, range }: Extract<Edit, { kind: 'add-requirement' }>,
): boolean {
  if (!isName(name)) {
    files.refuse('EDIT_NAME_INVALID', `"${name}" is no name of a package. ${NAME_WORDS}`);
    return false;
  }
  if (range === 'workspace') {
    const isThere = files.workspace.projects.some((project) => project.name === name);
    if (!isThere) files.refuse('EDIT_PROJECT_UNKNOWN', `No project is named ${name}.`);
    return isThere;
  }
  if (range !== 'shared') return files.isRange(range, name);
  const isAgreed = files.workspace.agreements.has(name);
  if (!isAgreed) {
    files.refuse(
      'EDIT_NOT_AGREED',
      `Nothing is agreed on for ${name}. Set a shared version first, or give a range.`,
    );
  }
  return isAgreed;
}
