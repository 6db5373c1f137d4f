import { mkdir, mkdtemp, readdir, readFile, rename, rm } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { execa } from 'execa';

export type Tree = Map<string, string>;

/** Who commits what, where, and when. */
export interface Commit {
  readonly who: string;
  readonly email: string;
  /** YYYY-MM-DD. */
  readonly day: string;
  readonly message: string;
  readonly branch: string;
  /** All files as they stand; none that the parent has is taken out. */
  readonly tree: ReadonlyMap<string, string>;
  readonly parent: Commit | null;
}

/**
 * Builds a bare git repository, byte for byte the same on every machine: authors, days and zones are given, and git
 * reads none of the machine's settings.
 * @param commits each after its parent; there is a branch main
 */
export async function buildBare(target: string, commits: readonly Commit[]): Promise<void> {
  await mkdir(dirname(target), { recursive: true });
  const made = await mkdtemp(`${target}-`);
  try {
    await git(made, ['init', '--quiet', '--bare', '--initial-branch=main', '--template=', '.']);
    // Packed, as what comes from a host is: whoever copies it copies few files.
    const packed = ['-c', 'fastimport.unpackLimit=1'];
    await git(made, [...packed, 'fast-import', '--quiet'], importStream(commits));
    await git(made, ['pack-refs', '--all']);
    await rm(target, { recursive: true, force: true });
    await rename(made, target);
  } finally {
    await rm(made, { recursive: true, force: true });
  }
}

async function git(cwd: string, args: readonly string[], input = ''): Promise<void> {
  const env = { GIT_CONFIG_NOSYSTEM: '1', GIT_CONFIG_GLOBAL: '/dev/null', HOME: cwd };
  await execa('git', args, { cwd, env, input });
}

/** What `git fast-import` reads: all commits go through one process. */
function importStream(commits: readonly Commit[]): string {
  const marks = new Map(commits.map((commit, i) => [commit, i + 1]));
  return commits
    .flatMap((commit) => {
      const { who, email, day, message, branch, tree, parent } = commit;
      const signed = `${who} <${email}> ${Date.parse(`${day}T09:30:00Z`) / 1000} +0000`;
      const changed = [...tree].filter(([path, text]) => parent?.tree.get(path) !== text);
      return [
        `commit refs/heads/${branch}`,
        `mark :${marks.get(commit)}`,
        `author ${signed}`,
        `committer ${signed}`,
        data(`${message}\n`),
        ...(parent === null ? [] : [`from :${marks.get(parent)}`]),
        ...changed.flatMap(([path, text]) => [`M 100644 inline ${path}`, data(text)]),
      ];
    })
    .join('\n');
}

function data(text: string): string {
  return `data ${Buffer.byteLength(text)}\n${text}`;
}

/** All files below a folder, by path. */
export async function readTree(sources: string): Promise<Tree> {
  const entries = await readdir(sources, { recursive: true, withFileTypes: true });
  const paths = entries
    .filter((entry) => entry.isFile())
    .map((entry) => join(entry.parentPath, entry.name).slice(sources.length + 1))
    .sort();
  return new Map(
    await Promise.all(
      paths.map(async (path) => [path, await readFile(join(sources, path), 'utf8')] as const),
    ),
  );
}
