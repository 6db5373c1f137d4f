import {
  dropLockstep,
  dropShared,
  NEW_SHARED_FILE,
  planSetShared,
  setLockstep,
  setShared,
  type TreePlan,
} from '../manifest/index.js';
import { isName, NAME_WORDS } from '../text/index.js';
import {
  addForeign,
  removeForeign,
  setForeignRange,
  sharedAsManifest,
  type SharedShape,
} from '../shape/index.js';
import { SHARED_FILE } from '../workspace/index.js';
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
      if (!files.isRange(edit.range, edit.package)) return;
      return agree(files, edit.package, edit.range);
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

/** Sets the agreement on a package in its place; a new one goes where the workspace keeps its agreements. */
export function agree(files: EditedFiles, name: string, range: string): void {
  const foreign = foreignPlace(files, name);
  if (foreign === null) inShared(files, [(text) => planSetShared(text, name, range)]);
  else {
    const shape = sharedAsManifest(foreign);
    const isThere = files.workspace.shared.shared.has(name);
    files.changeForeign(foreign.file, (text) =>
      isThere
        ? setForeignRange(text, shape, 'runtime', name, range)
        : addForeign(text, shape, 'runtime', name, range),
    );
  }
  keepLiterals(files, name, range);
}

/** The foreign file that agrees, or would agree, on a package; null: ours does. */
function foreignPlace(
  { workspace: { shapes, shared } }: EditedFiles,
  name: string,
): SharedShape | null {
  const there = shared.shared.get(name);
  if (there !== undefined) return there.file === undefined ? null : shapes.shared;
  const isInOurs =
    shared.lockstep.some(({ packages }) => packages.includes(name)) ||
    shared.everywhere.some((line) => line.name === name);
  return isInOurs ? null : shapes.shared;
}

function disagree(files: EditedFiles, name: string): void {
  const foreign = foreignPlace(files, name);
  if (foreign === null) return inShared(files, [dropShared(name)]);
  const shape = sharedAsManifest(foreign);
  files.changeForeign(foreign.file, (text) => removeForeign(text, shape, 'runtime', name));
}

/** Files that have no word for the shared version repeat it: they go on with it to another range. */
export function keepLiterals(files: EditedFiles, name: string, range: string): void {
  for (const project of files.workspace.projects) {
    const lacksWord = project.foreign.some(({ shape }) => shape.spelling.shared === null);
    if (!lacksWord) continue;
    for (const { kind, written } of ownRequirementsOn(project, name))
      if (written === 'shared') files.setRequirement(project, kind, name, 'shared', range);
  }
}

/** Projects that are gone or do not require the package any more are left out. */
function level(
  files: EditedFiles,
  { package: name, range, projects }: Extract<Edit, { kind: 'level' }>,
): void {
  if (!files.isRange(range, name)) return;
  agree(files, name, range);
  for (const project of files.workspace.projects) {
    if (!projects.includes(project.folder)) continue;
    for (const { kind } of ownRequirementsOn(project, name))
      files.setRequirement(project, kind, name, 'shared', range);
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
      files.setRequirement(project, kind, name, 'shared');
    }
  }
}

function retire(files: EditedFiles, name: string): void {
  const { agreements, shared, projects } = files.workspace;
  const agreement = agreements.get(name);
  if (agreement === undefined) {
    return files.refuse('EDIT_NOT_THERE', `Nothing is agreed on for ${name} any more.`);
  }
  for (const project of projects) {
    const own = project.requirements.filter((one) => one.name === name);
    for (const { kind, written, isEverywhere } of own) {
      if (written !== 'shared' || isEverywhere) continue;
      files.setRequirement(project, kind, name, agreement.text);
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
  disagree(files, name);
}

function makeSet(
  files: EditedFiles,
  { set, range, packages }: Extract<Edit, { kind: 'make-set' }>,
): void {
  if (!files.isRange(range, ...packages)) return;
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
  const own = packages.filter((name) => shared.has(name));
  for (const name of own) if (shared.get(name)!.file !== undefined) disagree(files, name);
  inShared(files, [
    ...plans,
    ...own.filter((name) => shared.get(name)!.file === undefined).map(dropShared),
    ...setLockstep(set, range, packages),
    // Who leaves the set stays agreed on at what the set was.
    ...loose.map((name) => setShared(name, old)),
  ]);
  for (const name of packages) keepLiterals(files, name, range);
}

function dissolve(files: EditedFiles, name: string): void {
  const set = files.workspace.shared.lockstep.find((one) => one.name === name);
  if (set === undefined) {
    return files.refuse('EDIT_NOT_THERE', `There is no lockstep set ${name} any more.`);
  }
  inShared(files, [dropLockstep(name), ...set.packages.map((one) => setShared(one, set.text))]);
}
