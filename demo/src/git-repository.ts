import { mkdir, mkdtemp, readdir, readFile, rename, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { dirname, join } from 'node:path';
import { execa } from 'execa';

export type Tree = Map<string, string>;

/** Runs `git` in a folder. */
export type Git = (
  args: readonly string[],
  env?: Readonly<Record<string, string>>,
) => Promise<void>;

/** Who commits what, and when. */
export interface Signed {
  readonly who: string;
  readonly email: string;
  /** YYYY-MM-DD. */
  readonly day: string;
  readonly message: string;
}

/**
 * Builds a bare git repository, byte for byte the same on every machine: authors, days and zones are given, and git
 * reads none of the machine's settings.
 * @param fill commits into the work tree of a new repository on the branch main
 */
export async function buildBare(
  target: string,
  fill: (git: Git, work: string) => Promise<void>,
): Promise<void> {
  const work = await mkdtemp(join(tmpdir(), 'demo-repository-'));
  try {
    const git = gitIn(work);
    await git(['init', '--quiet', '--initial-branch=main', '--template=', '.']);
    await fill(git, work);
    await git(['checkout', '--quiet', 'main']);
    const bare = join(work, 'bare.git');
    // Packed, as what comes from a host is: whoever copies it copies few files.
    await git(['clone', '--quiet', '--bare', '--no-local', '--template=', work, bare]);
    await gitIn(bare)(['remote', 'remove', 'origin']);
    await rm(target, { recursive: true, force: true });
    await mkdir(dirname(target), { recursive: true });
    await moveFolder(bare, target);
  } finally {
    await rm(work, { recursive: true, force: true });
  }
}

function gitIn(cwd: string): Git {
  return async (args, env = {}) => {
    await execa('git', args, {
      cwd,
      env: { ...env, GIT_CONFIG_NOSYSTEM: '1', GIT_CONFIG_GLOBAL: '/dev/null', HOME: cwd },
    });
  };
}

/** Renames, or copies where the target is on another file system. */
async function moveFolder(from: string, to: string): Promise<void> {
  try {
    await rename(from, to);
  } catch (error) {
    if ((error as NodeJS.ErrnoException).code !== 'EXDEV') throw error;
    await execa('cp', ['-a', from, to]);
  }
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

/** Commits a tree as it stands. */
export async function commitTree(
  git: Git,
  work: string,
  tree: ReadonlyMap<string, string>,
  { who, email, day, message }: Signed,
): Promise<void> {
  for (const [path, text] of tree) {
    await mkdir(dirname(join(work, path)), { recursive: true });
    await writeFile(join(work, path), text);
  }
  await git(['add', '--all', '--', ...tree.keys()]);
  const date = `${day}T09:30:00+0000`;
  await git(['commit', '--quiet', '--no-gpg-sign', '--message', message], {
    GIT_AUTHOR_NAME: who,
    GIT_AUTHOR_EMAIL: email,
    GIT_AUTHOR_DATE: date,
    GIT_COMMITTER_NAME: who,
    GIT_COMMITTER_EMAIL: email,
    GIT_COMMITTER_DATE: date,
  });
}
