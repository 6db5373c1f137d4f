import { globMatcher } from '../text/index.js';
import type { RootManifest } from '../manifest/index.js';
import { PROJECT_FILE, ROOT_FILE, type FileProblem, type WorkspaceFiles } from './workspace.js';

/** Folders with a project manifest that the workspace's patterns name, sorted. `.` is the root. */
export function projectFolders(
  files: WorkspaceFiles,
  globs: RootManifest['projectGlobs'],
): { readonly folders: readonly string[]; readonly problems: readonly FileProblem[] } {
  const problems: FileProblem[] = [];
  const all = [...files.keys()].flatMap((path) => folderOf(path) ?? []);
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
