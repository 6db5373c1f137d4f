import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import * as here from './tasks.worker.js';
import type { Tasks } from './tasks.worker.js';

const WORKER = fileURLToPath(new URL('./tasks.worker.js', import.meta.url));
const IDLE_MS = 10_000;
/** Reading this many characters takes about a tenth of a second. */
const SHORT = 1 << 18;

/** Worker threads for what would hold up everybody on the main thread. */
@Injectable()
export class WorkerPool implements OnModuleDestroy {
  private pool: Piscina | null = null;

  run<N extends keyof Tasks>(
    name: N,
    task: Parameters<Tasks[N]>[0],
  ): Promise<ReturnType<Tasks[N]>> {
    this.pool ??= new Piscina({
      filename: WORKER,
      maxThreads: Math.max(1, availableParallelism()),
      idleTimeout: IDLE_MS,
      execArgv: [],
    });
    return this.pool.run(task, { name }) as Promise<ReturnType<Tasks[N]>>;
  }

  /**
   * Does a task about texts: at once on this thread where they are short, as those of most workspaces are, so that nobody
   * waits for a thread to start.
   */
  async runFor<N extends keyof Tasks>(
    texts: Iterable<ReadonlyMap<string, string>>,
    name: N,
    task: Parameters<Tasks[N]>[0],
  ): Promise<ReturnType<Tasks[N]>> {
    if (areLong(texts)) return this.run(name, task);
    const work = here[name] as (task: Parameters<Tasks[N]>[0]) => ReturnType<Tasks[N]>;
    return work(task);
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool?.destroy();
  }
}

/** Would reading these texts hold up others? */
export function areLong(texts: Iterable<ReadonlyMap<string, string>>): boolean {
  let characters = 0;
  for (const files of texts) for (const text of files.values()) characters += text.length;
  return characters > SHORT;
}
