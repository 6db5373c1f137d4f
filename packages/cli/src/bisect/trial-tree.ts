import { mkdtemp, readFile, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, resolve } from 'node:path';
import {
  installPlan,
  LOCK_FILE,
  printLock,
  type Resolution,
  type Verdict,
  type Workspace,
} from '@deep-ledger/core';
import { install, type Cache, type FetchArchive, type WantedArchive } from '@deep-ledger/install';
import { git } from '../git/git.js';
import { runTrial } from './run-trial.js';
import { lockSum } from '../lock-sum.js';

export interface TrialTerms {
  readonly workspace: Workspace;
  readonly target: string | null;
  readonly isDev: boolean;
  readonly cache: Cache;
  readonly from: ((copy: WantedArchive) => FetchArchive) | null;
  readonly command: readonly [program: string, ...args: readonly string[]];
  /** Where it runs, from the root. */
  readonly at: string;
  readonly limitMs: number;
  /** Only what prints this counts as failing; null: whatever does not end with 0. */
  readonly says: string | null;
}

export interface Trial {
  readonly verdict: Verdict;
  /** How it ended, in words. */
  readonly says: string;
  /** The file of what it printed. */
  readonly printed: string;
}

/**
 * A scratch tree in which lockfiles are tried one after another. A copy that two lockfiles lay out alike is laid out
 * once.
 */
export class TrialTree {
  private readonly known = new Map<string, Trial>();

  private constructor(
    private readonly home: string,
    private readonly terms: TrialTerms,
    private readonly signal: AbortSignal,
  ) {}

  /** @param commit of the sources @throws GitError */
  static async at(
    repository: string,
    commit: string,
    terms: TrialTerms,
    signal: AbortSignal,
  ): Promise<TrialTree> {
    const home = await mkdtemp(join(tmpdir(), 'deep-ledger-bisect-'));
    const tree = new TrialTree(home, terms, signal);
    try {
      await git(repository, [
        ...['clone', '--quiet', '--shared', '--no-checkout'],
        ...[resolve(repository), tree.folder],
      ]);
      await git(tree.folder, ['checkout', '--quiet', '--detach', commit]);
      return tree;
    } catch (error) {
      await tree.remove();
      throw error;
    }
  }

  get folder(): string {
    return join(this.home, 'tree');
  }

  /** How many were tried. */
  get trials(): number {
    return this.known.size;
  }

  /** Lays a lockfile out and runs the command; one that was tried before is not tried again. @throws InstallTrouble */
  async try(resolution: Resolution): Promise<Trial> {
    const text = printLock(resolution);
    const sum = lockSum(text);
    const known = this.known.get(sum);
    if (known !== undefined) return known;
    const { workspace, target, isDev, cache, from, command, at, limitMs } = this.terms;
    await writeFile(join(this.folder, LOCK_FILE), text);
    const plan = installPlan(resolution, { target, projects: null, isDev });
    const terms = { lockSum: sum, target, isDev, folder: workspace.installFolder };
    await install(this.folder, cache, plan, terms, from);
    this.signal.throwIfAborted();
    const printed = join(this.home, `trial-${this.known.size + 1}.txt`);
    const end = await runTrial(command, join(this.folder, at), printed, limitMs, this.signal);
    this.signal.throwIfAborted();
    const trial = { ...(await this.judged(end, printed)), printed };
    this.known.set(sum, trial);
    return trial;
  }

  private async judged(
    { code, isLate }: Awaited<ReturnType<typeof runTrial>>,
    printed: string,
  ): Promise<Pick<Trial, 'verdict' | 'says'>> {
    if (code === 0) return { verdict: 'works', says: 'it ended with 0' };
    const says = isLate
      ? `it had not ended after ${this.terms.limitMs / 1000} seconds`
      : code === null
        ? 'a signal ended it'
        : `it ended with ${code}`;
    const text = this.terms.says;
    if (text === null || (await readFile(printed, 'utf8')).includes(text))
      return { verdict: 'fails', says };
    return { verdict: 'unclear', says: `${says}, and did not print “${text}”` };
  }

  remove(): Promise<void> {
    return rm(this.home, { recursive: true, force: true });
  }
}
