import { fork, type ChildProcess } from 'node:child_process';
import { once } from 'node:events';
import { fileURLToPath } from 'node:url';
import { gitSurroundings } from './git-surroundings.js';
import { GitEnded, type GitAnswer, type GitCall } from './run-git.js';
import type { Order, Report } from './spawner-process.js';

const PROGRAM = fileURLToPath(new URL('./spawner-process.js', import.meta.url));

interface Waiting {
  readonly resolve: (answer: GitAnswer) => void;
  readonly reject: (error: Error) => void;
}

/**
 * A small process that starts git for this one. To start a program, a process is first copied, with a list of all its
 * memory, and answers nobody meanwhile: 2 ms for a small one, 50 ms for one of 500 MB.
 */
export class GitSpawner {
  private process: ChildProcess | null = null;
  private readonly waiting = new Map<number, Waiting>();
  private last = 0;

  /** Runs git as `runGit` does. @throws GitEnded */
  async run(args: readonly string[], { signal, ...call }: GitCall): Promise<GitAnswer> {
    if (signal?.aborted === true) throw new GitEnded(true, call.limitMs);
    const child = (this.process ??= this.start());
    const id = ++this.last;
    const tell = (order: Order): void => {
      // Where nobody takes it any more, the end of the process says so to all who wait.
      child.send(order, () => undefined);
    };
    const stop = (): void => tell({ id, isStop: true });
    try {
      return await new Promise<GitAnswer>((resolve, reject) => {
        this.waiting.set(id, { resolve, reject });
        signal?.addEventListener('abort', stop, { once: true });
        tell({ id, args, call });
      });
    } finally {
      this.waiting.delete(id);
      signal?.removeEventListener('abort', stop);
    }
  }

  /** Ends the process, once no call is under way. */
  async close(): Promise<void> {
    const child = this.process;
    if (child === null) return;
    const ended = once(child, 'exit');
    if (child.connected) child.disconnect();
    await ended;
  }

  private start(): ChildProcess {
    const child = fork(PROGRAM, {
      env: gitSurroundings(process.env),
      execArgv: [],
      serialization: 'advanced',
      stdio: ['ignore', 'inherit', 'inherit', 'ipc'],
    });
    child.on('message', (report: Report) => this.settle(report));
    child.once('error', (error) => this.giveUp(child, error));
    child.once('exit', (code, signal) =>
      this.giveUp(child, new Error(`The process that starts git has ended (${signal ?? code}).`)),
    );
    return child;
  }

  /** All who wait are told why, and the next call starts another process. */
  private giveUp(child: ChildProcess, why: Error): void {
    if (this.process !== child) return;
    this.process = null;
    for (const { reject } of this.waiting.values()) reject(why);
  }

  private settle(report: Report): void {
    const waiting = this.waiting.get(report.id);
    if ('answer' in report) waiting?.resolve(report.answer);
    else if ('failed' in report) waiting?.reject(new Error(report.failed));
    else waiting?.reject(new GitEnded(report.ended.isStopped, report.ended.limitMs));
  }
}
