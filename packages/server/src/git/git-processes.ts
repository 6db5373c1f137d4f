import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import { GitSpawner } from './git-spawner.js';
import type { GitAnswer, GitCall } from './run-git.js';

/** The calls of git that this server has begun. Once it closes, they end, and none begins any more. */
@Injectable()
export class GitProcesses implements BeforeApplicationShutdown {
  private readonly over = new AbortController();
  private readonly calls = new Set<Promise<unknown>>();
  private readonly spawner = new GitSpawner();

  /** After jobs have been given up. When it is done nothing is written into a clone any more. */
  async beforeApplicationShutdown(): Promise<void> {
    this.over.abort();
    await Promise.allSettled(this.calls);
    await this.spawner.close();
  }

  /** @throws GitEnded */
  async run(args: readonly string[], { signal, ...call }: GitCall): Promise<GitAnswer> {
    const over = this.over.signal;
    const either = signal === undefined ? over : AbortSignal.any([signal, over]);
    const answer = this.spawner.run(args, { ...call, signal: either });
    this.calls.add(answer);
    try {
      return await answer;
    } finally {
      this.calls.delete(answer);
    }
  }
}
