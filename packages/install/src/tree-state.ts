import { createHash } from 'node:crypto';
import { readdir, readFile, readlink } from 'node:fs/promises';
import { join } from 'node:path';
import type { InstallPlan, LinkTarget, PlannedProject } from '@deep-ledger/core';

/** Below the root of a work tree: everything that installing lays out. */
export const TREE_FOLDER = '.ledger';
export const COPIES = 'copies';
export const VIEWS = 'views';
/** Leads to the view that counts. Moving it is how a new tree appears, whole. */
export const NOW = 'now';
const STATE = 'state.json';

/** What is laid out, as it was meant. */
export interface TreeState {
  readonly format: 1;
  /** Of the lockfile. */
  readonly lockSum: string;
  readonly target: string | null;
  readonly isDev: boolean;
  /** Name of the folder of links in each project. */
  readonly folder: string;
  /** Folders of copies, with name and version. */
  readonly copies: readonly StateCopy[];
  readonly projects: readonly PlannedProject[];
}

export interface StateCopy {
  readonly folder: string;
  readonly name: string;
  readonly version: string;
  readonly integrity: string;
  readonly links: InstallPlan['copies'][number]['links'];
}

/** The name of a view: what lies in it never changes. */
export function viewName(state: TreeState): string {
  return createHash('sha256').update(JSON.stringify(state)).digest('hex').slice(0, 24);
}

export function printState(state: TreeState): string {
  return `${JSON.stringify(state)}\n`;
}

export function stateFile(root: string, view: string): string {
  return join(root, TREE_FOLDER, VIEWS, view, STATE);
}

/** What a work tree has; null: nothing was laid out, or not to its end. */
export async function readState(root: string): Promise<TreeState | null> {
  try {
    const to = await readlink(join(root, TREE_FOLDER, NOW));
    const view = to.split('/').at(-1)!;
    return JSON.parse(await readFile(stateFile(root, view), 'utf8')) as TreeState;
  } catch (error) {
    if (error instanceof SyntaxError) return null;
    const { code = '' } = error as NodeJS.ErrnoException;
    if (['ENOENT', 'ENOTDIR', 'EINVAL'].includes(code)) return null;
    throw error;
  }
}

/** Is everything there that was laid out, and nothing left over, as far as names tell? O(copies + projects). */
export async function isWhole(
  root: string,
  { copies, projects, folder }: TreeState,
): Promise<boolean> {
  const there = await readdir(join(root, TREE_FOLDER, COPIES)).catch(() => []);
  const known = new Set(there);
  if (there.length !== copies.length || !copies.every((one) => known.has(one.folder))) return false;
  const links = await Promise.all(
    projects.map((one) => readlink(join(root, one.folder, folder)).catch(() => null)),
  );
  return projects.every((one, i) => links[i] === linkOfProject(one.folder));
}

/** A project's folder of links within a view. */
export function projectView(project: string): string {
  return `project-${encodeURIComponent(project)}`;
}

/** Up from a folder that lies so many folders below the root. */
function up(depth: number): string {
  return Array.from({ length: depth }, () => '..').join('/');
}

function depthOf(path: string): number {
  return path.split('/').filter((part) => part !== '' && part !== '.').length;
}

/**
 * What the link of a copy's folder holds: from beside its files, over to those of another.
 * @param folder name of the folder of links
 */
export function linkInCopy(name: string, to: LinkTarget, folder: string): string {
  const above = depthOf(name) - 1;
  return to.kind === 'copy'
    ? `${up(above + 2)}/${to.folder}/${folder}/${name}`
    : `${up(above + 4)}/${to.folder}`;
}

/** What the link of a project's view holds. */
export function linkInView(name: string, to: LinkTarget, folder: string): string {
  const above = depthOf(name) - 1;
  return to.kind === 'copy'
    ? `${up(above + 3)}/${COPIES}/${to.folder}/${folder}/${name}`
    : `${up(above + 4)}/${to.folder}`;
}

/** What the link in a project's own folder holds. */
export function linkOfProject(project: string): string {
  const depth = depthOf(project);
  return `${depth === 0 ? '' : `${up(depth)}/`}${TREE_FOLDER}/${NOW}/${projectView(project)}`;
}
