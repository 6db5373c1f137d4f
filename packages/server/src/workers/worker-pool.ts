import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import type { Tasks } from './tasks.worker.js';

// Tests run from the sources, and worker threads cannot: they take what the build made of them.
const WORKER = fileURLToPath(new URL('./tasks.worker.js', import.meta.url)).replace(
  /([\\/])src([\\/]workers[\\/])/,
  '$1dist$2',
);
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
