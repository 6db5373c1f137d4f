import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import type { Credentials } from '@deep-ledger/registry-client';
import { LockedOtherwise, Vault } from '../credentials/vault.js';
import { Problem } from '../problems/problem.js';
import { SETTINGS, type Settings } from '../settings.js';
import { Turns } from '../turns.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { GitClones, GitFailed, textOf } from './git-clones.js';
import { GitHosts } from './git-hosts.js';
import { GitEnded } from './run-git.js';
import { withTrailers, type Trailer } from './trailers.js';

export interface Author {
  readonly name: string;
  readonly email: string;
}

export interface FileWrite {
  readonly path: string;
  readonly text: string;
}

/** A repository as a workspace knows it. */
export type Repository = Pick<WorkspaceEntity, 'id' | 'address' | 'credentials'>;

/** What a commit is made of. */
export interface NewCommit {
  readonly base: string;
  /** Written on top of the base, or of what was merged. */
  readonly files: readonly FileWrite[];
  readonly message: string;
  readonly author: Author;
  readonly committer: Author;
  readonly at: Date;
  readonly merge?: MergeParts;
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

/**
 * Bare clones of the repositories, and all that is done with them, through the `git` program. Nothing
 * ever has a work tree. Clones are named by the workspace's id.
 */
@Injectable()
export class GitService {
  /** For what moves a clone's branches: git gives up where another moves what it is about to. */
  private readonly turns = new Turns();

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly clones: GitClones,
    private readonly hosts: GitHosts,
    private readonly vault: Vault,
  ) {}

  async version(): Promise<string> {
    return (await this.clones.demand(null, ['--version'])).replace('git version ', '');
  }

  /** The branch that a repository points to when none is named. */
  async defaultBranch(repository: Omit<Repository, 'id'>): Promise<string> {
    const { address } = repository;
    const said = await this.asking(repository, ['ls-remote', '--symref', '--', address, 'HEAD'], {
      limitMs: this.settings.hostMs,
    });
    const branch = /^ref: refs\/heads\/(\S+)\tHEAD/m.exec(said)?.[1];
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
  async fetch(repository: Repository, signal?: AbortSignal): Promise<void> {
    const { id, address } = repository;
    await this.turns.take(id, async () => {
      await this.clones.prepare(id);
      await this.asking(
        repository,
        [
          'fetch',
          '--quiet',
          '--prune',
          '--no-tags',
          '--no-auto-maintenance',
          '--',
          address,
          '+refs/heads/*:refs/heads/*',
        ],
        { cwd: this.clones.folder(id), limitMs: this.settings.hostMs, signal },
      );
      this.clones.noteMove(id);
    });
  }

  remove(id: string): Promise<void> {
    return this.clones.remove(id);
  }

  /** Where two commits parted; null: they have nothing in common. Of several such the first. */
  async mergeBase(id: string, ours: string, theirs: string): Promise<string | null> {
    const { stdout } = await this.clones.ask(id, ['merge-base', '--all', ours, theirs]);
    return textOf(stdout).split('\n').filter(Boolean).sort()[0] ?? null;
  }

  /** The tree that git makes of two commits, and the paths at which it found a conflict. */
  async mergeTree(
    id: string,
    ours: string,
    theirs: string,
  ): Promise<{ readonly tree: string; readonly conflicts: readonly string[] }> {
    const answer = await this.clones.ask(id, [
      'merge-tree',
      '--write-tree',
      '--no-messages',
      '--name-only',
      '-z',
      ours,
      theirs,
    ]);
    if (answer.exitCode > 1) throw new GitFailed('merge-tree', answer);
    const [tree = '', ...paths] = answer.stdout.toString('utf8').split('\0').filter(Boolean);
    return { tree, conflicts: [...new Set(paths)] };
  }

  /** A message with trailers at its end, as git puts them there. */
  withTrailers(message: string, trailers: readonly Trailer[]): Promise<string> {
    return withTrailers(this.clones, message, trailers);
  }

  /**
   * Writes a commit, without moving any branch.
   * @returns the new commit
   */
  async writeCommit(
    id: string,
    { base, files, message, author, committer, at, merge }: NewCommit,
  ): Promise<string> {
    const scratch = await mkdtemp(join(tmpdir(), 'deep-ledger-index-'));
    try {
      const env = { GIT_INDEX_FILE: join(scratch, 'index') };
      await this.clones.demand(id, ['read-tree', merge?.tree ?? base], { env });
      const modes = await this.modes(id, env, files);
      const oids = await this.writeBlobs(id, scratch, files);
      const entries = [
        ...files.map(({ path }, i) => `${modes.get(path) ?? '100644'} ${oids[i]!}\t${path}\0`),
        ...(merge?.gone ?? []).map((path) => `0 ${NO_OBJECT}\t${path}\0`),
      ];
      await this.clones.demand(id, ['update-index', '-z', '--index-info'], {
        env,
        input: entries.join(''),
      });
      const tree = await this.clones.demand(id, ['write-tree'], { env });
      const parents = [base, ...(merge === undefined ? [] : [merge.parent])];
      const date = at.toISOString();
      return await this.clones.demand(
        id,
        ['commit-tree', tree, ...parents.flatMap((parent) => ['-p', parent]), '-F', '-'],
        {
          input: message,
          env: {
            GIT_AUTHOR_NAME: author.name,
            GIT_AUTHOR_EMAIL: author.email,
            GIT_AUTHOR_DATE: date,
            GIT_COMMITTER_NAME: committer.name,
            GIT_COMMITTER_EMAIL: committer.email,
            GIT_COMMITTER_DATE: date,
          },
        },
      );
    } finally {
      await rm(scratch, { recursive: true, force: true });
    }
  }

  /**
   * Puts a commit at the head of the repository's branch if the branch still stands at `base`.
   * @param base null: there must be no such branch yet
   * @throws Problem BRANCH_MOVED, BRANCH_EXISTS, POST_UNCERTAIN, or POST_REFUSED with what the repository said
   */
  async moveBranch(
    repository: Repository,
    branch: string,
    base: string | null,
    commit: string,
  ): Promise<void> {
    const { id, address } = repository;
    const ref = `refs/heads/${branch}`;
    const args = [
      'push',
      '--porcelain',
      `--force-with-lease=${ref}:${base ?? ''}`,
      '--',
      checked(address),
      `${commit}:${ref}`,
    ];
    try {
      await this.hosts.call(address, args, {
        cwd: this.clones.folder(id),
        limitMs: this.settings.hostMs,
        credentials: await this.credentialsOf(repository),
      });
    } catch (error) {
      if (error instanceof GitEnded)
        throw new Problem(
          'POST_UNCERTAIN',
          504,
          'The repository has not answered',
          `${address} took the commit and said nothing for ${this.settings.hostMs / 1000} seconds. The journal shows whether it arrived once the repository can be read; until then the draft stays.`,
        );
      if (!(error instanceof GitFailed)) throw error;
      throw refusal(error, address, branch, base);
    }
    await this.turns.take(id, async () => {
      await this.clones.demand(id, ['update-ref', ref, commit]);
      this.clones.noteMove(id);
    });
  }

  /** The modes of those files that the index has. */
  private async modes(
    id: string,
    env: Record<string, string>,
    files: readonly FileWrite[],
  ): Promise<ReadonlyMap<string, string>> {
    const paths = files.map(({ path }) => path);
    const said = await this.clones.demand(
      id,
      ['--literal-pathspecs', 'ls-files', '--stage', '-z', '--', ...paths],
      { env },
    );
    const entries = said.split('\0').filter(Boolean);
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
    const said = await this.clones.demand(
      id,
      ['hash-object', '-w', '--no-filters', '--stdin-paths'],
      { input: paths.map((path) => `${path}\n`).join('') },
    );
    return said.split('\n');
  }

  /** Asks where a repository lies, and tells what it said when it would not answer. */
  private async asking(
    repository: Omit<Repository, 'id'>,
    args: readonly string[],
    call: {
      readonly cwd?: string;
      readonly limitMs: number;
      readonly signal?: AbortSignal | undefined;
    },
  ): Promise<string> {
    const { address } = repository;
    checked(address);
    try {
      const credentials = await this.credentialsOf(repository);
      return textOf((await this.hosts.call(address, args, { ...call, credentials })).stdout);
    } catch (error) {
      const said = whyNot(error, call.limitMs);
      if (said === null) throw error;
      throw new Problem(
        'REPOSITORY_UNREADABLE',
        422,
        'The repository cannot be read',
        `git cannot read ${address}: ${said} Check the path or address, and that this machine may read it.`,
      );
    }
  }

  private async credentialsOf({ credentials }: Omit<Repository, 'id'>) {
    return credentials === null ? null : this.vault.unlock<Credentials>(credentials);
  }
}

/** Why a repository cannot be read, in a sentence; null: for another reason than the repository itself. */
function whyNot(error: unknown, limitMs: number): string | null {
  if (error instanceof GitFailed) return lastLines(error.answer.stderr);
  if (error instanceof LockedOtherwise) return error.message;
  return error instanceof GitEnded && !error.isStopped
    ? `no answer within ${limitMs / 1000} seconds.`
    : null;
}

/** An address that git cannot take for an option or for a helper program. */
function checked(address: string): string {
  if (!address.startsWith('-') && !/^[a-z+]+::/i.test(address)) return address;
  throw new Problem(
    'ADDRESS_INVALID',
    422,
    'No repository address',
    `"${address}" is neither a path nor a git address.`,
  );
}

/** Why a push was refused, from what git said. */
function refusal(
  { answer: { stdout, stderr } }: GitFailed,
  address: string,
  branch: string,
  base: string | null,
): Problem {
  const said = `${stdout.toString('utf8')}\n${stderr}`;
  const isStale = /stale info|fetch first|cannot lock ref/.test(said);
  if (isStale && base === null)
    return new Problem(
      'BRANCH_EXISTS',
      409,
      'The branch is there already',
      `The repository has a branch ${branch} already. Nothing was written. Choose another name.`,
    );
  if (isStale)
    return new Problem(
      'BRANCH_MOVED',
      409,
      'The branch moved',
      `${branch} no longer stands at ${base?.slice(0, 7)}, where this draft was evaluated. Nothing was written. The draft is carried over to the new head; look at it again, then post.`,
    );
  if (/refusing to update checked out branch/.test(said))
    return new Problem(
      'POST_REFUSED',
      409,
      'The branch is checked out',
      `${branch} is checked out in ${address}, and git does not move a branch under a work tree. Nothing was written. Check out another branch there, or open a bare repository.`,
    );
  return new Problem(
    'POST_REFUSED',
    409,
    'The repository refused the commit',
    `git said: ${lastLines(stderr)} Nothing was written.`,
  );
}

const NO_OBJECT = '0'.repeat(40);

function lastLines(text: string): string {
  const lines = text
    .trim()
    .split('\n')
    .map((line) => line.replace(/^(fatal|error|remote): /, '').trim());
  const said = lines.filter(Boolean).slice(0, 3).join('; ');
  return /[.!?]$/.test(said) ? said : `${said}.`;
}
