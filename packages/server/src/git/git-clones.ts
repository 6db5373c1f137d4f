import { randomUUID } from 'node:crypto';
import { access, mkdir, rename, rm } from 'node:fs/promises';
import { join } from 'node:path';
import { Inject, Injectable } from '@nestjs/common';
import pLimit from 'p-limit';
import { SETTINGS, type Settings } from '../settings.js';
import { GitProcesses } from './git-processes.js';
import type { GitAnswer, GitCall } from './run-git.js';

/** The longest that git may work in a clone on this machine. */
const LOCAL_MS = 60_000;
/** Processes at once, so that many questions do not crowd each other out. */
const AT_ONCE = 8;

/** git said that something is not as it was asked to be. */
export class GitFailed extends Error {
  constructor(
    readonly command: string,
    readonly answer: GitAnswer,
  ) {
    super(`git ${command} ended with ${answer.exitCode}: ${answer.stderr.trim()}`);
  }
}

/** The bare clones, one for each workspace by its id, and `git` run in them. Nothing ever has a work tree. */
@Injectable()
export class GitClones {
  private readonly limit = pLimit(AT_ONCE);
  private readonly moves = new Map<string, number>();

  constructor(
    @Inject(SETTINGS) private readonly settings: Settings,
    private readonly processes: GitProcesses,
  ) {}

  /** Where a workspace's clone lies. */
  folder(id: string): string {
    return join(this.settings.dataFolder, 'git', `${id}.git`);
  }

  /** Changes whenever branches of a clone may have moved. */
  movesOf(id: string): number {
    return this.moves.get(id) ?? 0;
  }

  noteMove(id: string): void {
    this.moves.set(id, this.movesOf(id) + 1);
  }

  /** Makes an empty clone where there is none. For the server's own eyes alone. */
  async prepare(id: string): Promise<void> {
    const folder = this.folder(id);
    // A clone that is there can be read even when the disk is full and nothing can be made.
    if (await this.exists(id)) return;
    await mkdir(folder, { recursive: true, mode: 0o700 });
    await this.demand(null, ['init', '--quiet', '--bare', '--template=', folder]);
  }

  /** Is there a clone? */
  async exists(id: string): Promise<boolean> {
    return access(this.folder(id)).then(
      () => true,
      () => false,
    );
  }

  /**
   * Takes a clone away, also while git is at work in it: it is out of sight at once, and goes in its own time.
   * Housekeeping removes files that git writes into it at the last moment.
   */
  async remove(id: string): Promise<void> {
    this.noteMove(id);
    const aside = `${this.folder(id)}.${randomUUID()}`;
    try {
      await rename(this.folder(id), aside);
    } catch (error) {
      if ((error as NodeJS.ErrnoException).code === 'ENOENT') return;
      throw error;
    }
    void rm(aside, { recursive: true, force: true }).catch(() => undefined);
  }

  /** Runs git in a clone, whatever comes of it. @param id null: in no clone */
  ask(
    id: string | null,
    args: readonly string[],
    options: Pick<GitCall, 'env' | 'input'> = {},
  ): Promise<GitAnswer> {
    const cwd = id === null ? {} : { cwd: this.folder(id) };
    return this.limit(() => this.processes.run(args, { ...cwd, ...options, limitMs: LOCAL_MS }));
  }

  /** Runs git in a clone. @returns what it printed @throws GitFailed */
  async demandBytes(
    id: string | null,
    args: readonly string[],
    options: Pick<GitCall, 'env' | 'input'> = {},
  ): Promise<Buffer> {
    const answer = await this.ask(id, args, options);
    if (answer.exitCode !== 0) throw new GitFailed(args[0]!, answer);
    return answer.stdout;
  }

  /** The same as text, without line ends at its end. @throws GitFailed */
  async demand(
    id: string | null,
    args: readonly string[],
    options: Pick<GitCall, 'env' | 'input'> = {},
  ): Promise<string> {
    return textOf(await this.demandBytes(id, args, options));
  }
}

/** What git printed, without line ends at its end. */
export function textOf(printed: Buffer): string {
  return printed.toString('utf8').replace(/\n+$/, '');
}
