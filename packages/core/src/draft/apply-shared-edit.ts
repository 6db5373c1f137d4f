import {
  dropLockstep,
  dropShared,
  NEW_SHARED_FILE,
  planSetRequirement,
  planSetShared,
  setLockstep,
  setShared,
  type TreePlan,
} from '../manifest/index.js';
import { isName, NAME_WORDS } from '../text/index.js';
import { manifestPath, SHARED_FILE } from '../workspace/index.js';
import { ownRequirementsOn, type Edit } from '../edit/index.js';
import type { EditedFiles } from './edited-files.js';

type SharedEdit = Extract<
  Edit,
  { kind: 'level' | 'set-shared' | 'take-shared' | 'retire-shared' | 'make-set' | 'dissolve-set' }
>;

/** Edits of what is agreed on, and of who takes it. */
export function applySharedEdit(files: EditedFiles, edit: SharedEdit): void {
  switch (edit.kind) {
    case 'level':
      return level(files, edit);
    case 'set-shared':
      if (!files.isRange(edit.range)) return;
      return inShared(files, [(text) => planSetShared(text, edit.package, edit.range)]);
    case 'take-shared':
      return takeShared(files, edit.package, edit.projects);
    case 'retire-shared':
      return retire(files, edit.package);
    case 'make-set':
      return makeSet(files, edit);
    case 'dissolve-set':
      return dissolve(files, edit.set);
  }
}

function inShared(files: EditedFiles, plans: readonly TreePlan[]): void {
  files.change(SHARED_FILE, plans, NEW_SHARED_FILE);
}

/** Projects that are gone or do not require the package any more are left out. */
function level(
  files: EditedFiles,
  { package: name, range, projects }: Extract<Edit, { kind: 'level' }>,
): void {
  if (!files.isRange(range)) return;
  inShared(files, [(text) => planSetShared(text, name, range)]);
  for (const project of files.workspace.projects) {
    if (!projects.includes(project.folder)) continue;
    for (const { kind } of ownRequirementsOn(project, name))
      files.change(manifestPath(project.folder), [
        (text) => planSetRequirement(text, kind, name, 'shared'),
      ]);
  }
}

function takeShared(files: EditedFiles, name: string, folders: readonly string[]): void {
  if (!files.workspace.agreements.has(name)) {
    return files.refuse(
      'EDIT_NOT_AGREED',
      `Nothing is agreed on for ${name}, so no project can take it. Set a shared version first.`,
    );
  }
  for (const project of files.projectsIn(folders)) {
    for (const { kind } of files.ownRequirements(project, name)) {
      files.change(manifestPath(project.folder), [
        (text) => planSetRequirement(text, kind, name, 'shared'),
      ]);
    }
  }
}

function retire(files: EditedFiles, name: string): void {
  const { agreements, shared, projects } = files.workspace;
  const agreement = agreements.get(name);
  if (agreement === undefined) {
    return files.refuse('EDIT_NOT_THERE', `Nothing is agreed on for ${name} any more.`);
  }
  for (const { folder, requirements } of projects) {
    for (const { kind, written, isEverywhere } of requirements.filter((one) => one.name === name)) {
      if (written !== 'shared' || isEverywhere) continue;
      files.change(manifestPath(folder), [
        (text) => planSetRequirement(text, kind, name, agreement.text),
      ]);
    }
  }
  const set = shared.lockstep.find(({ packages }) => packages.includes(name));
  if (set !== undefined) {
    const rest = set.packages.filter((one) => one !== name);
    return inShared(
      files,
      rest.length === 0 ? [dropLockstep(set.name)] : setLockstep(set.name, set.text, rest),
    );
  }
  if (!shared.shared.has(name)) {
    return files.refuse(
      'EDIT_NOT_THERE',
      `${name} is agreed on because every project requires it. End that instead.`,
    );
  }
  inShared(files, [dropShared(name)]);
}

function makeSet(
  files: EditedFiles,
  { set, range, packages }: Extract<Edit, { kind: 'make-set' }>,
): void {
  if (!files.isRange(range)) return;
  if (!isName(set)) {
    return files.refuse('EDIT_NAME_INVALID', `"${set}" cannot name a set. ${NAME_WORDS}`);
  }
  if (packages.length === 0) {
    return files.refuse(
      'EDIT_VALUE_INVALID',
      `A lockstep set needs packages. Dissolve ${set} instead.`,
    );
  }
  const { lockstep, shared } = files.workspace.shared;
  const plans = lockstep
    .filter((one) => one.name !== set && one.packages.some((name) => packages.includes(name)))
    .flatMap((other) => {
      const rest = other.packages.filter((name) => !packages.includes(name));
      return rest.length === 0
        ? [dropLockstep(other.name)]
        : setLockstep(other.name, other.text, rest);
    });
  const left = lockstep.find((one) => one.name === set)?.packages ?? [];
  const loose = left.filter((name) => !packages.includes(name));
  const old = lockstep.find((one) => one.name === set)?.text ?? range;
  inShared(files, [
    ...plans,
    ...packages.filter((name) => shared.has(name)).map(dropShared),
    ...setLockstep(set, range, packages),
    // Who leaves the set stays agreed on at what the set was.
    ...loose.map((name) => setShared(name, old)),
  ]);
}

function dissolve(files: EditedFiles, name: string): void {
  const set = files.workspace.shared.lockstep.find((one) => one.name === name);
  if (set === undefined) {
    return files.refuse('EDIT_NOT_THERE', `There is no lockstep set ${name} any more.`);
  }
  inShared(files, [dropLockstep(name), ...set.packages.map((one) => setShared(one, set.text))]);
}
