import { Injectable } from '@nestjs/common';
import {
  aheadTask,
  readWorkspace,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '@deep-ledger/core';
import { areLong, WorkerPool } from './worker-pool.js';

/** Reads workspaces so that long files hold up nobody: another thread parses them. */
@Injectable()
export class WorkspaceReader {
  constructor(private readonly workers: WorkerPool) {}

  /** @param before an earlier reading: what it has is not read again */
  async read(files: WorkspaceFiles, before?: WorkspaceReading): Promise<WorkspaceReading> {
    const task = aheadTask(files, before);
    if (!areLong([task.texts])) return readWorkspace(files, before);
    return readWorkspace(files, before, await this.workers.run('readAhead', task));
  }
}
