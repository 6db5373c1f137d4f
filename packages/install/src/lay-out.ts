import {
  constants,
  copyFileSync,
  existsSync,
  linkSync,
  lstatSync,
  mkdirSync,
  readdirSync,
  readlinkSync,
  renameSync,
  rmSync,
  symlinkSync,
  writeFileSync,
} from 'node:fs';
import { dirname, join } from 'node:path';
import type { PlannedCopy, PlannedLink } from '@deep-ledger/core';
import type { KeptTree } from './cache.js';
import { InstallTrouble } from './install-trouble.js';
import {
  COPIES,
  linkInCopy,
  linkInView,
  linkOfProject,
  NOW,
  printState,
  projectView,
  readState,
  stateFile,
  TREE_FOLDER,
  viewName,
  VIEWS,
  type TreeState,
} from './tree-state.js';

const TMP = 'tmp';
/** Systems without hard links, across file systems, or with too many links of one file: then files are copied. */
const NO_LINK = ['EXDEV', 'EPERM', 'EMLINK', 'ENOTSUP', 'ENOSYS', 'EACCES'];

export interface Laid {
  /** Folders of copies that are new, and that are gone. */
  readonly made: number;
  readonly removed: number;
}

/**
 * Lays out a work tree. It makes new folders beside those that are there, then moves one link, so that the new tree is
 * there at once and whole, and then removes what is left over. A kill at any point leaves the old tree or the new one.
 * The calls are synchronous: there are very many short ones.
 * @param root of the work tree
 * @param treeOf an unpacked archive
 * @param isAnew lay out also what is there
 * @throws InstallTrouble, and what the file system says; ENOENT where an archive was taken out of the cache meanwhile
 */
export async function layOut(
  root: string,
  state: TreeState,
  copies: readonly PlannedCopy[],
  treeOf: (copy: PlannedCopy) => KeptTree,
  tell: (done: number, total: number) => void = () => undefined,
  isAnew = false,
): Promise<Laid> {
  const base = join(root, TREE_FOLDER);
  const before = await readState(root);
  refuseForeign(root, state);
  mkdirSync(join(base, COPIES), { recursive: true });
  mkdirSync(join(base, VIEWS), { recursive: true });
  rmSync(join(base, TMP), { recursive: true, force: true });
  mkdirSync(join(base, TMP));
  if (!existsSync(join(base, '.gitignore'))) writeFileSync(join(base, '.gitignore'), '*\n');
  const missing = copies.filter(({ folder }) => isAnew || !existsSync(join(base, COPIES, folder)));
  missing.forEach((copy, i) => {
    tell(i, missing.length);
    layCopy(base, state.folder, copy, treeOf(copy));
  });
  const view = viewName(state);
  layView(root, base, state, view);
  moveNow(base, view);
  // From here on the new tree is the one that counts.
  for (const { folder } of state.projects) linkProject(root, state.folder, folder);
  const removed = clearAway(root, base, state, view, before);
  return { made: missing.length, removed };
}

/** A folder of links that somebody else has made is not ours to replace. */
function refuseForeign(root: string, { projects, folder }: TreeState): void {
  for (const project of projects) {
    const place = join(root, project.folder, folder);
    const stat = lstatSync(place, { throwIfNoEntry: false });
    if (stat === undefined) continue;
    if (!stat.isSymbolicLink() || readlinkSync(place) !== linkOfProject(project.folder))
      throw new InstallTrouble(
        `${join(project.folder, folder)} is there already and was not laid out by this. Remove it, or give [install] folder in ledger.toml another name.`,
      );
  }
}

function layCopy(base: string, folder: string, copy: PlannedCopy, tree: KeptTree): void {
  const scratch = join(base, TMP, copy.folder);
  const inside = join(scratch, folder);
  const own = join(inside, copy.name);
  mkdirSync(own, { recursive: true });
  const made = new Set<string>();
  for (const { path } of tree.files) {
    makeParents(own, path, made);
    linkOrCopy(`${tree.folder}/${path}`, `${own}/${path}`);
  }
  for (const { name, to } of copy.links) layLink(inside, name, linkInCopy(name, to, folder));
  linkOrCopy(join(dirname(tree.folder), 'list.json'), join(scratch, 'list.json'));
  const place = join(base, COPIES, copy.folder);
  if (existsSync(place)) renameSync(place, join(base, TMP, `old-${copy.folder}`));
  renameSync(scratch, place);
}

/** The folders in which a file lies, each made once. */
function makeParents(own: string, path: string, made: Set<string>): void {
  for (let at = path.indexOf('/'); at >= 0; at = path.indexOf('/', at + 1)) {
    const parent = path.slice(0, at);
    if (made.has(parent)) continue;
    mkdirSync(`${own}/${parent}`);
    made.add(parent);
  }
}

function linkOrCopy(from: string, to: string): void {
  try {
    linkSync(from, to);
  } catch (error) {
    if (!NO_LINK.includes((error as NodeJS.ErrnoException).code ?? '')) throw error;
    // A clone, where the file system has that.
    copyFileSync(from, to, constants.COPYFILE_FICLONE);
  }
}

function layLink(folder: string, name: string, target: string): void {
  const place = join(folder, name);
  // A copy that requires another release of its own package sees itself.
  if (lstatSync(place, { throwIfNoEntry: false }) !== undefined) return;
  mkdirSync(dirname(place), { recursive: true });
  symlinkSync(target, place);
}

function layView(root: string, base: string, state: TreeState, view: string): void {
  const place = join(base, VIEWS, view);
  if (existsSync(stateFile(root, view))) return;
  rmSync(place, { recursive: true, force: true });
  const scratch = join(base, TMP, 'view');
  mkdirSync(scratch);
  for (const { folder: project, links } of state.projects) {
    const inside = join(scratch, projectView(project));
    mkdirSync(inside);
    layLinks(inside, links, state.folder);
  }
  // Last: a view with a state is whole.
  writeFileSync(join(scratch, 'state.json'), printState(state), { flush: true });
  renameSync(scratch, place);
}

function layLinks(inside: string, links: readonly PlannedLink[], folder: string): void {
  for (const { name, to } of links) layLink(inside, name, linkInView(name, to, folder));
}

function moveNow(base: string, view: string): void {
  const next = join(base, TMP, NOW);
  symlinkSync(`${VIEWS}/${view}`, next);
  renameSync(next, join(base, NOW));
}

function linkProject(root: string, folder: string, project: string): void {
  const place = join(root, project, folder);
  if (lstatSync(place, { throwIfNoEntry: false }) === undefined)
    symlinkSync(linkOfProject(project), place);
}

/** @returns how many folders of copies went */
function clearAway(
  root: string,
  base: string,
  state: TreeState,
  view: string,
  before: TreeState | null,
): number {
  for (const other of readdirSync(join(base, VIEWS)))
    if (other !== view) rmSync(join(base, VIEWS, other), { recursive: true, force: true });
  const kept = new Set(state.projects.map((one) => join(root, one.folder, state.folder)));
  for (const { folder } of before?.projects ?? []) {
    const place = join(root, folder, before!.folder);
    if (!kept.has(place) && isOurLink(place, folder)) rmSync(place);
  }
  const wanted = new Set(state.copies.map(({ folder }) => folder));
  let removed = 0;
  for (const folder of readdirSync(join(base, COPIES))) {
    if (wanted.has(folder)) continue;
    rmSync(join(base, COPIES, folder), { recursive: true, force: true });
    removed++;
  }
  rmSync(join(base, TMP), { recursive: true, force: true });
  return removed;
}

function isOurLink(place: string, project: string): boolean {
  const stat = lstatSync(place, { throwIfNoEntry: false });
  return stat?.isSymbolicLink() === true && readlinkSync(place) === linkOfProject(project);
}
