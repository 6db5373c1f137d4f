import {
  dropAccepted,
  dropEverywhere,
  dropException,
  dropMuted,
  dropOtherwise,
  dropPin,
  type ExceptionText,
  type MutedText,
  NEW_SHARED_FILE,
  type OtherwiseText,
  schemeOf,
  setAccepted,
  setEverywhere,
  setException,
  setMuted,
  setOtherwise,
  setPin,
  type TreePlan,
} from '../manifest/index.js';
import { SHARED_FILE } from '../workspace/index.js';
import type { Edit } from '../edit/index.js';
import { keepLiterals } from './apply-shared-edit.js';
import type { EditedFiles } from './edited-files.js';

type RuleEdit = Extract<
  Edit,
  {
    kind:
      | 'everywhere'
      | 'not-everywhere'
      | 'pin'
      | 'unpin'
      | 'grant-exception'
      | 'end-exception'
      | 'answer-otherwise'
      | 'end-otherwise'
      | 'mute'
      | 'unmute'
      | 'accept-terms'
      | 'end-acceptance';
  }
>;

/** Edits of what holds beside the shared versions: everywhere, pins, exceptions, muted findings. */
export function applyRuleEdit(files: EditedFiles, edit: RuleEdit): void {
  const { shared } = files.workspace;
  const inShared = (plans: readonly TreePlan[]): void =>
    files.change(SHARED_FILE, plans, NEW_SHARED_FILE);
  switch (edit.kind) {
    case 'everywhere': {
      if (!files.isRange(edit.range, edit.package) || !areThere(files, edit.except)) return;
      inShared(setEverywhere(edit.package, edit.range, edit.as, edit.except));
      return keepLiterals(files, edit.package, edit.range);
    }
    case 'not-everywhere':
      if (!shared.everywhere.some(({ name }) => name === edit.package)) {
        return files.refuse(
          'EDIT_NOT_THERE',
          `${edit.package} is not required everywhere any more.`,
        );
      }
      return inShared([dropEverywhere(edit.package)]);
    case 'pin':
      if (
        !files.isVersion(edit.version, schemeOf(files.workspace.registries, edit.package)) ||
        !areThere(files, edit.except ?? [])
      )
        return;
      return inShared(setPin(edit.package, edit.version, edit.except ?? []));
    case 'unpin':
      if (!shared.pins.has(edit.package)) {
        return files.refuse('EDIT_NOT_THERE', `${edit.package} is not pinned any more.`);
      }
      return inShared([dropPin(edit.package)]);
    case 'grant-exception':
      return grant(files, edit);
    case 'end-exception':
      if (
        !shared.exceptions.some(
          (one) => one.project === edit.project && one.package === edit.package,
        )
      ) {
        return files.refuse(
          'EDIT_NOT_THERE',
          `${edit.project} has no exception for ${edit.package} any more.`,
        );
      }
      return inShared([dropException(edit.project, edit.package)]);
    case 'answer-otherwise':
      if (!files.isRange(edit.range, edit.package)) return;
      if (!isReasoned(edit)) {
        return files.refuse(
          'EDIT_VALUE_INVALID',
          'To answer otherwise needs a reason, an owner and a last day such as 2027-03-31.',
        );
      }
      return inShared(setOtherwise(edit));
    case 'end-otherwise':
      if (!shared.otherwise.some((one) => one.of === edit.of && one.package === edit.package)) {
        return files.refuse(
          'EDIT_NOT_THERE',
          `What ${edit.of} asks for of ${edit.package} is not answered otherwise any more.`,
        );
      }
      return inShared([dropOtherwise(edit.of, edit.package)]);
    case 'mute':
      if (!isReasoned(edit)) {
        return files.refuse(
          'EDIT_VALUE_INVALID',
          'To mute a finding needs a reason, an owner and a last day such as 2027-03-31.',
        );
      }
      return inShared(setMuted(edit));
    case 'unmute':
      if (!shared.muted.some(({ finding }) => finding === edit.finding))
        return files.refuse('EDIT_NOT_THERE', `"${edit.finding}" is not muted any more.`);
      return inShared([dropMuted(edit.finding)]);
    case 'accept-terms':
      return inShared(setAccepted(edit));
    case 'end-acceptance':
      if (!shared.accepted.some(({ id }) => id === edit.id))
        return files.refuse('EDIT_NOT_THERE', `The terms ${edit.id} are not accepted any more.`);
      return inShared([dropAccepted(edit.id)]);
  }
}

/** Are all of these projects there? Else the edit is refused. */
function areThere(files: EditedFiles, named: readonly string[]): boolean {
  const known = files.workspace.projects.flatMap(({ name, folder }) => [name, folder]);
  const unknown = named.find((one) => !known.includes(one));
  if (unknown === undefined) return true;
  files.refuse('EDIT_PROJECT_UNKNOWN', `There is no project ${unknown} to except.`);
  return false;
}

function grant(files: EditedFiles, edit: Extract<Edit, { kind: 'grant-exception' }>): void {
  const { project: named, package: name, range } = edit;
  if (!files.isRange(range, name)) return;
  if (!files.workspace.agreements.has(name)) {
    return files.refuse(
      'EDIT_NOT_AGREED',
      `Nothing is agreed on for ${name}, so there is nothing to be excepted from.`,
    );
  }
  if (!isReasoned(edit)) {
    return files.refuse(
      'EDIT_VALUE_INVALID',
      `An exception needs a reason, an owner and a last day such as 2027-03-31.`,
    );
  }
  const project = files.workspace.projects.find(
    (one) => one.name === named || one.folder === named,
  );
  if (project === undefined) {
    return files.refuse('EDIT_PROJECT_UNKNOWN', `There is no readable project ${named} any more.`);
  }
  for (const requirement of files.ownRequirements(project, name)) {
    files.setRequirement(project, requirement.kind, name, range);
  }
  files.change(SHARED_FILE, setException(edit), NEW_SHARED_FILE);
}

function isReasoned({ reason, owner, until }: MutedText | ExceptionText | OtherwiseText): boolean {
  const isDay = /^\d{4}-\d{2}-\d{2}$/.test(until) && !Number.isNaN(Date.parse(until));
  return isDay && reason.trim() !== '' && owner.trim() !== '';
}
