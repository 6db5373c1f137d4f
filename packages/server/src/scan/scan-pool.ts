import { availableParallelism } from 'node:os';
import { fileURLToPath } from 'node:url';
import { Injectable, type OnModuleDestroy } from '@nestjs/common';
import { Piscina } from 'piscina';
import type { ScanSettings, SourceScan } from '@deep-ledger/core';
import type { ScanTask } from './scan.worker.js';

// Tests run from the sources, and worker threads cannot: they take what the build made of them.
const WORKER = fileURLToPath(new URL('./scan.worker.js', import.meta.url)).replace(
  /([\\/])src([\\/]scan[\\/])/,
  '$1dist$2',
);
const FILES_IN_A_TASK = 40;

/** Worker threads that scan source. */
@Injectable()
export class ScanPool implements OnModuleDestroy {
  private pool: Piscina | null = null;

  /** The scans of files, in their order. */
  async scan(settings: ScanSettings, files: ScanTask['files']): Promise<readonly SourceScan[]> {
    this.pool ??= new Piscina({
      filename: WORKER,
      maxThreads: Math.max(1, availableParallelism()),
      idleTimeout: 10_000,
      execArgv: [],
    });
    const tasks: ScanTask[] = [];
    for (let i = 0; i < files.length; i += FILES_IN_A_TASK)
      tasks.push({ settings, files: files.slice(i, i + FILES_IN_A_TASK) });
    const pool = this.pool;
    const found = await Promise.all(
      tasks.map((task) => pool.run(task) as Promise<readonly SourceScan[]>),
    );
    return found.flat();
  }

  async onModuleDestroy(): Promise<void> {
    await this.pool?.destroy();
  }
}
