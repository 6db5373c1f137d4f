import { lstat, readdir, readFile, readlink } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import type { KeptList } from './cache.js';
import { hashFile } from './integrity.js';
import {
  COPIES,
  linkInCopy,
  linkInView,
  linkOfProject,
  NOW,
  projectView,
  readState,
  TREE_FOLDER,
  type TreeState,
} from './tree-state.js';

/** A part of a work tree that is not as the lockfile has it. */
export interface TreeFault {
  readonly kind: 'not-installed' | 'other-release' | 'altered' | 'left-over';
  /** Of a project or a copy; null: of the tree as a whole. */
  readonly where: string | null;
  readonly says: string;
}

/**
 * Compares what is laid out with what is to be; changes nothing.
 * @param wanted the state that the lockfile leads to
 * O(files of all copies): each is hashed where it is not the very file of the list that came with it.
 */
export async function checkTree(root: string, wanted: TreeState): Promise<readonly TreeFault[]> {
  const now = await readState(root);
  if (now === null)
    return [{ kind: 'not-installed', where: null, says: 'Nothing is laid out here.' }];
  const faults: TreeFault[] = [];
  const note = (kind: TreeFault['kind'], where: string | null, says: string): void => {
    faults.push({ kind, where, says });
  };
  compareProjects(now, wanted, note);
  for (const { folder, links } of now.projects) {
    const place = join(root, folder, now.folder);
    if ((await linkAt(place)) !== linkOfProject(folder))
      note('altered', folder, `${join(folder, now.folder)} is not the link that was laid out.`);
    const view = join(root, TREE_FOLDER, NOW, projectView(folder));
    for (const { name, to } of links)
      if ((await linkAt(join(view, name))) !== linkInView(name, to, now.folder))
        note(
          'altered',
          folder,
          `${name} in ${join(folder, now.folder)} is not as it was laid out.`,
        );
    const known = new Set(links.map(({ name }) => name));
    for (const name of await namesIn(view))
      if (!known.has(name)) note('left-over', folder, `${name} was put there by somebody else.`);
  }
  const copies = join(root, TREE_FOLDER, COPIES);
  const known = new Set(now.copies.map(({ folder }) => folder));
  for (const name of await readdir(copies))
    if (!known.has(name))
      note('left-over', null, `${join(TREE_FOLDER, COPIES, name)} is left over.`);
  for (const copy of now.copies) {
    const title = `${copy.name} ${copy.version}`;
    const inside = join(copies, copy.folder, now.folder);
    for (const says of await faultsOfCopy(dirname(inside), join(inside, copy.name)))
      note('altered', title, says);
    for (const { name, to } of copy.links)
      if (
        name !== copy.name &&
        (await linkAt(join(inside, name))) !== linkInCopy(name, to, now.folder)
      )
        note('altered', title, `Its link to ${name} is not as it was laid out.`);
  }
  return faults;
}

/** What projects see now, and are to see. */
function compareProjects(
  now: TreeState,
  wanted: TreeState,
  note: (kind: TreeFault['kind'], where: string, says: string) => void,
): void {
  const versions = (state: TreeState): ReadonlyMap<string, string> =>
    new Map(state.copies.map(({ folder, version }) => [folder, version]));
  const [isVersion, wasVersion] = [versions(wanted), versions(now)];
  const shown = (
    to: TreeState['projects'][number]['links'][number]['to'],
    of: ReadonlyMap<string, string>,
  ): string => (to.kind === 'project' ? `the project ${to.folder}` : (of.get(to.folder) ?? '?'));
  const before = new Map(now.projects.map((one) => [one.folder, one]));
  for (const { folder, links } of wanted.projects) {
    const has = new Map(before.get(folder)?.links.map(({ name, to }) => [name, to]));
    for (const { name, to } of links) {
      const is = has.get(name);
      has.delete(name);
      if (is === undefined)
        note('not-installed', folder, `${name} ${shown(to, isVersion)} is not installed.`);
      else if (is.folder !== to.folder || is.kind !== to.kind) {
        const [from, into] = [shown(is, wasVersion), shown(to, isVersion)];
        note(
          'other-release',
          folder,
          from === into
            ? `${name} ${into} is laid out with other releases around it.`
            : `${name} is laid out as ${from}; the lockfile has ${into}.`,
        );
      }
    }
    for (const name of has.keys()) note('left-over', folder, `${name} is not required any more.`);
    before.delete(folder);
  }
  for (const { folder } of before.values())
    note('left-over', folder, 'It is laid out, and is not to be.');
}

async function faultsOfCopy(folder: string, own: string): Promise<readonly string[]> {
  const text = await readFile(join(folder, 'list.json'), 'utf8').catch(() => null);
  if (text === null) return ['It is not there, or not whole.'];
  const { files } = JSON.parse(text) as KeptList;
  const faults: string[] = [];
  for (const { path, sha256 } of files) {
    const found = await hashFile(join(own, path), 'sha256');
    if (found === null) faults.push(`${path} is missing.`);
    else if (found.hex !== sha256) faults.push(`${path} was changed.`);
  }
  const known = new Set(files.map(({ path }) => path));
  for (const path of await filesBelow(own)) if (!known.has(path)) faults.push(`${path} was added.`);
  return faults;
}

async function linkAt(place: string): Promise<string | null> {
  return readlink(place).catch(() => null);
}

/** Names of packages in a folder of links: names with `/` lie in folders. */
async function namesIn(view: string): Promise<readonly string[]> {
  const names: string[] = [];
  const walk = async (path: string): Promise<void> => {
    for (const one of await readdir(join(view, path), { withFileTypes: true }).catch(() => [])) {
      const name = path === '' ? one.name : `${path}/${one.name}`;
      if (one.isDirectory()) await walk(name);
      else names.push(name);
    }
  };
  await walk('');
  return names;
}

async function filesBelow(folder: string): Promise<readonly string[]> {
  if (
    !(await lstat(folder).then(
      () => true,
      () => false,
    ))
  )
    return [];
  const all = await readdir(folder, { recursive: true, withFileTypes: true });
  return all
    .filter((one) => !one.isDirectory())
    .map((one) => join(one.parentPath, one.name).slice(folder.length + 1));
}
