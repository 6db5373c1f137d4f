import { globMatcher } from '../text/index.js';
import type { RootManifest } from '../manifest/index.js';
import { PROJECT_FILE, ROOT_FILE, type FileProblem, type WorkspaceFiles } from './workspace.js';

/** The folders that are projects, and what is wrong with the patterns that say so. */
export interface ProjectFolders {
  readonly folders: readonly string[];
  readonly problems: readonly FileProblem[];
}

/** All folders with a project manifest. `.` is the root. O(files) */
export function manifestFolders(files: WorkspaceFiles): readonly string[] {
  return [...files.keys()].flatMap((path) => folderOf(path) ?? []);
}

/** Of folders with a project manifest those that the workspace's patterns name, sorted. O(patterns x folders) */
export function projectFolders(
  all: readonly string[],
  globs: RootManifest['projectGlobs'],
): ProjectFolders {
  const problems: FileProblem[] = [];
  const chosen = new Set<string>();
  const inside = globs.filter(({ text, span }) => {
    if (!leadsOut(text.replace(/^!/, ''))) return true;
    problems.push({ file: ROOT_FILE, problem: { code: 'GLOB_OUTSIDE', glob: text, span } });
    return false;
  });
  for (const { text, span } of inside) {
    const isTaken = text.startsWith('!');
    const isMatch = globMatcher(trim(isTaken ? text.slice(1) : text));
    const matches = all.filter((folder) => isMatch(folder));
    for (const folder of matches) {
      if (isTaken) chosen.delete(folder);
      else chosen.add(folder);
    }
    if (matches.length === 0 && !isTaken) {
      problems.push({ file: ROOT_FILE, problem: { code: 'GLOB_WITHOUT_MATCH', glob: text, span } });
    }
  }
  return { folders: [...chosen].sort(), problems };
}

function folderOf(path: string): string | null {
  if (path === PROJECT_FILE) return '.';
  return path.endsWith(`/${PROJECT_FILE}`) ? path.slice(0, -PROJECT_FILE.length - 1) : null;
}

function leadsOut(glob: string): boolean {
  return glob === '' || /^([a-zA-Z]:|\/)|\\/.test(glob) || glob.split('/').includes('..');
}

function trim(glob: string): string {
  return glob.replace(/^\.\//, '').replace(/\/+$/, '');
}
