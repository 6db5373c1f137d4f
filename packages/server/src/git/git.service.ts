import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Injectable } from '@nestjs/common';
import { execa, ExecaError } from 'execa';
import { Problem } from '../problems/problem.js';
import { ENV, GitClones } from './git-clones.js';

export interface Author {
  readonly name: string;
  readonly email: string;
}

export interface FileWrite {
  readonly path: string;
  readonly text: string;
}

/**
 * Bare clones of the repositories, and all that is done with them, through the `git` program. Nothing
 * ever has a work tree. Clones are named by the workspace's id.
 */
@Injectable()
export class GitService {
  constructor(private readonly clones: GitClones) {}

  async version(): Promise<string> {
    const { stdout } = await execa('git', ['--version']);
    return stdout.replace('git version ', '');
  }

  /** The branch that an address points to when none is named. */
  async defaultBranch(address: string): Promise<string> {
    const { stdout } = await this.asking(address, () =>
      execa('git', ['ls-remote', '--symref', '--', this.checked(address), 'HEAD'], { env: ENV }),
    );
    const branch = /^ref: refs\/heads\/(\S+)\tHEAD/m.exec(stdout)?.[1];
    if (branch === undefined) {
      throw new Problem(
        'BRANCH_UNKNOWN',
        422,
        'No default branch',
        `${address} names no default branch. Name the branch to read.`,
      );
    }
    return branch;
  }

  /** Makes the clone, or brings it up to date. All branches come along. */
  async fetch(id: string, address: string): Promise<void> {
    const folder = this.clones.folder(id);
    await mkdir(folder, { recursive: true });
    await execa('git', ['init', '--quiet', '--bare', '--template=', folder], { env: ENV });
    await this.asking(address, () =>
      this.clones.run(
        id,
        [
          'fetch',
          '--quiet',
          '--prune',
          '--no-tags',
          '--no-auto-maintenance',
          '--',
          this.checked(address),
          '+refs/heads/*:refs/heads/*',
        ],
        { timeoutMs: FETCH_MS },
      ),
    );
  }

  async remove(id: string): Promise<void> {
    await rm(this.clones.folder(id), { recursive: true, force: true });
  }

  async branches(id: string): Promise<readonly string[]> {
    const { stdout } = await this.clones.run(id, [
      'for-each-ref',
      '--format=%(refname:lstrip=2)',
      'refs/heads/',
    ]);
    return stdout.split('\n').filter(Boolean);
  }

  /** Where two commits parted; null: they have nothing in common. Of several such the first. */
  async mergeBase(id: string, ours: string, theirs: string): Promise<string | null> {
    const { stdout } = await execa('git', ['merge-base', '--all', ours, theirs], {
      cwd: this.clones.folder(id),
      env: ENV,
      reject: false,
    });
    return stdout.split('\n').filter(Boolean).sort()[0] ?? null;
  }

  /** The tree that git makes of two commits, and the paths at which it found a conflict. */
  async mergeTree(
    id: string,
    ours: string,
    theirs: string,
  ): Promise<{ readonly tree: string; readonly conflicts: readonly string[] }> {
    const { stdout, exitCode, stderr } = await execa(
      'git',
      ['merge-tree', '--write-tree', '--no-messages', '--name-only', '-z', ours, theirs],
      { cwd: this.clones.folder(id), env: ENV, reject: false },
    );
    if (exitCode === undefined || exitCode > 1) throw new Error(`git merge-tree: ${stderr}`);
    const [tree = '', ...paths] = stdout.split('\0').filter(Boolean);
    return { tree, conflicts: [...new Set(paths)] };
  }

  /**
   * Writes a commit with these files changed on top of another one, without moving any branch.
   * @returns the new commit
   */
  async writeCommit(
    id: string,
    base: string,
    files: readonly FileWrite[],
    message: string,
    author: Author,
    at: Date,
    merge: MergeParts | null = null,
  ): Promise<string> {
    const scratch = await mkdtemp(join(tmpdir(), 'deep-ledger-index-'));
    try {
      const env = { GIT_INDEX_FILE: join(scratch, 'index') };
      await this.clones.run(id, ['read-tree', merge?.tree ?? base], { env });
      const modes = await this.modes(id, env, files);
      const oids = await this.writeBlobs(id, scratch, files);
      const entries = [
        ...files.map(({ path }, i) => `${modes.get(path) ?? '100644'} ${oids[i]!}\t${path}\0`),
        ...(merge?.gone ?? []).map((path) => `0 ${NO_OBJECT}\t${path}\0`),
      ];
      await this.clones.run(id, ['update-index', '-z', '--index-info'], {
        env,
        input: entries.join(''),
      });
      const { stdout: tree } = await this.clones.run(id, ['write-tree'], { env });
      const date = at.toISOString();
      const { stdout: commit } = await this.clones.run(
        id,
        [
          'commit-tree',
          tree,
          '-p',
          base,
          ...(merge === null ? [] : ['-p', merge.parent]),
          '-F',
          '-',
        ],
        {
          input: message,
          env: {
            GIT_AUTHOR_NAME: author.name,
            GIT_AUTHOR_EMAIL: author.email,
            GIT_AUTHOR_DATE: date,
            GIT_COMMITTER_NAME: author.name,
            GIT_COMMITTER_EMAIL: author.email,
            GIT_COMMITTER_DATE: date,
          },
        },
      );
      return commit;
    } finally {
      await rm(scratch, { recursive: true, force: true });
    }
  }

  /**
   * Puts a commit at the head of the repository's branch if the branch still stands at `base`.
   * @param base null: there must be no such branch yet
   * @throws Problem BRANCH_MOVED, or POST_REFUSED with what the repository said
   */
  async moveBranch(
    id: string,
    address: string,
    branch: string,
    base: string | null,
    commit: string,
  ): Promise<void> {
    const ref = `refs/heads/${branch}`;
    try {
      await this.clones.run(id, [
        'push',
        '--porcelain',
        `--force-with-lease=${ref}:${base ?? ''}`,
        '--',
        this.checked(address),
        `${commit}:${ref}`,
      ]);
    } catch (error) {
      if (!(error instanceof ExecaError)) throw error;
      const said = `${String(error.stdout)}\n${String(error.stderr)}`;
      const isStale = /stale info|fetch first|cannot lock ref/.test(said);
      if (isStale && base === null) {
        throw new Problem(
          'BRANCH_EXISTS',
          409,
          'The branch is there already',
          `The repository has a branch ${branch} already. Nothing was written. Choose another name.`,
        );
      }
      if (isStale) {
        throw new Problem(
          'BRANCH_MOVED',
          409,
          'The branch moved',
          `${branch} no longer stands at ${base?.slice(0, 7)}, where this draft was evaluated. Nothing was written. The draft is carried over to the new head; look at it again, then post.`,
        );
      }
      if (/refusing to update checked out branch/.test(said)) {
        throw new Problem(
          'POST_REFUSED',
          409,
          'The branch is checked out',
          `${branch} is checked out in ${address}, and git does not move a branch under a work tree. Nothing was written. Check out another branch there, or open a bare repository.`,
        );
      }
      throw new Problem(
        'POST_REFUSED',
        409,
        'The repository refused the commit',
        `git said: ${lastLines(String(error.stderr))} Nothing was written.`,
      );
    }
    await this.clones.run(id, ['update-ref', ref, commit]);
  }

  /** The modes of those files that the index has. */
  private async modes(
    id: string,
    env: Record<string, string>,
    files: readonly FileWrite[],
  ): Promise<ReadonlyMap<string, string>> {
    const paths = files.map(({ path }) => path);
    const { stdout } = await this.clones.run(
      id,
      ['--literal-pathspecs', 'ls-files', '--stage', '-z', '--', ...paths],
      { env },
    );
    const entries = stdout.split('\0').filter(Boolean);
    return new Map(
      entries.map((entry) => [entry.slice(entry.indexOf('\t') + 1), entry.slice(0, 6)]),
    );
  }

  /** Writes all contents with one call of git; their ids in the same order. */
  private async writeBlobs(
    id: string,
    scratch: string,
    files: readonly FileWrite[],
  ): Promise<readonly string[]> {
    const paths = files.map((_, i) => join(scratch, String(i)));
    await Promise.all(files.map(({ text }, i) => writeFile(paths[i]!, text)));
    const { stdout } = await this.clones.run(
      id,
      ['hash-object', '-w', '--no-filters', '--stdin-paths'],
      {
        input: paths.map((path) => `${path}\n`).join(''),
      },
    );
    return stdout.split('\n');
  }

  /** An address that git cannot take for an option or for a helper program. */
  private checked(address: string): string {
    if (!address.startsWith('-') && !/^[a-z+]+::/i.test(address)) return address;
    throw new Problem(
      'ADDRESS_INVALID',
      422,
      'No repository address',
      `"${address}" is neither a path nor a git address.`,
    );
  }

  private async asking<T>(address: string, ask: () => Promise<T>): Promise<T> {
    try {
      return await ask();
    } catch (error) {
      if (!(error instanceof ExecaError)) throw error;
      const said = error.timedOut
        ? `no answer within ${FETCH_MS / 1000} seconds.`
        : lastLines(String(error.stderr));
      throw new Problem(
        'REPOSITORY_UNREADABLE',
        422,
        'The repository cannot be read',
        `git cannot read ${address}: ${said} Check the path or address, and that this machine may read it.`,
      );
    }
  }
}

/** What makes a commit a merge. */
export interface MergeParts {
  /** The other parent. */
  readonly parent: string;
  /** The tree that the files are put into. */
  readonly tree: string;
  /** Files that go. */
  readonly gone: readonly string[];
}

const NO_OBJECT = '0'.repeat(40);

/** A repository over a slow line may take this long to hand over what is new. */
const FETCH_MS = 60_000;

function lastLines(text: string): string {
  const lines = text
    .trim()
    .split('\n')
    .map((line) => line.replace(/^(fatal|error|remote): /, '').trim());
  const said = lines.filter(Boolean).slice(0, 3).join('; ');
  return /[.!?]$/.test(said) ? said : `${said}.`;
}
