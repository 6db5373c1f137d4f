import { Injectable, type BeforeApplicationShutdown } from '@nestjs/common';
import { runGit, type GitAnswer, type GitCall } from './run-git.js';

/** The calls of git that this server has begun. Once it closes, they end, and none begins any more. */
@Injectable()
export class GitProcesses implements BeforeApplicationShutdown {
  private readonly over = new AbortController();
  private readonly calls = new Set<Promise<unknown>>();

  /** After jobs have been given up. When it is done nothing is written into a clone any more. */
  async beforeApplicationShutdown(): Promise<void> {
    this.over.abort();
    await Promise.allSettled(this.calls);
  }

  /** @throws GitEnded */
  async run(args: readonly string[], { signal, ...call }: GitCall): Promise<GitAnswer> {
    const over = this.over.signal;
    const either = signal === undefined ? over : AbortSignal.any([signal, over]);
    const answer = runGit(args, { ...call, signal: either });
    this.calls.add(answer);
    try {
      return await answer;
    } finally {
      this.calls.delete(answer);
    }
  }
}
