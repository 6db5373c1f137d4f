import { availableParallelism } from 'node:os';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import { builtWorker } from './built-worker.js';
import type { Tasks } from './tasks.worker.js';

const WORKER = builtWorker(new URL('./tasks.worker.js', import.meta.url));
const IDLE_MS = 10_000;

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

  async onModuleDestroy(): Promise<void> {
    await this.pool?.destroy();
  }
}
