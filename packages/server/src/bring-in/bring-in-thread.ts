import { fileURLToPath } from 'node:url';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import { Piscina } from 'piscina';
import { GitFiles } from '../git/git-files.js';
import type { BringInAnswer, BringInTask } from './bring-in.worker.js';
import { repositoryTexts, type RepositoryTexts } from './repository-texts.js';

const IDLE_MS = 5 * 60_000;
const MOST_TOLD = 100;

/** What was looked at in a repository. */
export type Looked = Omit<RepositoryTexts, 'texts'>;

/** One thread that keeps the texts of the repositories that are being brought in. */
@Injectable()
export class BringInThread implements OnModuleDestroy {
  private pool: Piscina<BringInTask, BringInAnswer> | null = null;
  private readonly looked = new LRUCache<string, Looked>({ max: MOST_TOLD });

  constructor(private readonly files: GitFiles) {}

  /** Of a repository at a commit. Its texts are read where the thread does not have them. */
  async ask(
    id: string,
    commit: string,
    read: BringInTask['read'],
  ): Promise<{
    readonly answer: Exclude<BringInAnswer, { kind: 'lacks' }>;
    readonly looked: Looked;
  }> {
    const key = `${id} ${commit}`;
    const known = this.looked.get(key);
    const first = known === undefined ? null : await this.run({ key, texts: null, read });
    if (known !== undefined && first !== null && first.kind !== 'lacks')
      return { answer: first, looked: known };
    const { texts, ...looked } = await repositoryTexts(this.files, id, commit);
    this.looked.set(key, looked);
    const answer = await this.run({ key, texts, read });
    if (answer.kind === 'lacks') throw new Error(`the thread does not keep what it is sent`);
    return { answer, looked };
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool?.destroy();
  }

  private run(task: BringInTask): Promise<BringInAnswer> {
    this.pool ??= new Piscina<BringInTask, BringInAnswer>({
      filename: fileURLToPath(new URL('./bring-in.worker.js', import.meta.url)),
      maxThreads: 1,
      idleTimeout: IDLE_MS,
      execArgv: [],
    });
    return this.pool.run(task);
  }
}
