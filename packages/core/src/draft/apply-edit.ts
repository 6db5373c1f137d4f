import { NEW_SHARED_FILE, planSetRequirement, planSetShared } from '../manifest/index.js';
import { applyEdits, unreachable } from '../text/index.js';
import { parseRange, versionProblemMessage } from '../version/index.js';
import {
  manifestPath,
  SHARED_FILE,
  type Workspace,
  type WorkspaceFiles,
} from '../workspace/index.js';
import type { Edit, EditProblem } from './edit.js';

export type EditOutcome =
  | { readonly ok: true; readonly files: WorkspaceFiles }
  | { readonly ok: false; readonly problem: EditProblem };

/**
 * The files with one edit made, in place: what it is not about stays as it is.
 * @param workspace read from these files
 */
export function applyEdit(workspace: Workspace, files: WorkspaceFiles, edit: Edit): EditOutcome {
  switch (edit.kind) {
    case 'set-shared':
      return setShared(files, edit.package, edit.range);
    case 'take-shared':
      return takeShared(workspace, files, edit.package, edit.projects);
    default:
      return unreachable(edit);
  }
}

function refuse(code: EditProblem['code'], message: string): EditOutcome {
  return { ok: false, problem: { code, message } };
}

function setShared(files: WorkspaceFiles, name: string, range: string): EditOutcome {
  const parsed = parseRange(range, 'always');
  if (!parsed.ok) {
    const column = parsed.problem.span[0] + 1;
    const message = `"${range}", column ${column}: ${versionProblemMessage(parsed.problem)}.`;
    return refuse('EDIT_RANGE_INVALID', message);
  }
  const text = files.get(SHARED_FILE) ?? NEW_SHARED_FILE;
  const edits = planSetShared(text, name, range);
  if (edits === null) {
    return refuse(
      'EDIT_FILE_UNREADABLE',
      `${SHARED_FILE} cannot be read, so ${name} cannot be agreed on. Mend the file first.`,
    );
  }
  return { ok: true, files: new Map(files).set(SHARED_FILE, applyEdits(text, edits)) };
}

function takeShared(
  workspace: Workspace,
  files: WorkspaceFiles,
  name: string,
  folders: readonly string[],
): EditOutcome {
  if (!workspace.agreements.has(name)) {
    return refuse(
      'EDIT_NOT_AGREED',
      `Nothing is agreed on for ${name}, so no project can take it. Set a shared version first.`,
    );
  }
  const edited = new Map(files);
  for (const folder of folders) {
    const project = workspace.projects.find((one) => one.folder === folder);
    if (project === undefined) {
      return refuse('EDIT_PROJECT_UNKNOWN', `There is no readable project in ${folder} any more.`);
    }
    const own = project.requirements.filter((one) => one.name === name && !one.isEverywhere);
    if (own.length === 0) {
      return refuse('EDIT_NOT_REQUIRED', `${project.name} does not require ${name} any more.`);
    }
    const path = manifestPath(folder);
    for (const { kind } of own) {
      const text = edited.get(path)!;
      const edits = planSetRequirement(text, kind, name, 'shared');
      if (edits === null) {
        return refuse(
          'EDIT_FILE_UNREADABLE',
          `${path} cannot be edited: its requirement on ${name} is not a plain string.`,
        );
      }
      edited.set(path, applyEdits(text, edits));
    }
  }
  return { ok: true, files: edited };
}
