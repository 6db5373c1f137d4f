import { Injectable } from '@nestjs/common';
import {
  aheadTask,
  readWorkspace,
  type WorkspaceFiles,
  type WorkspaceReading,
} from '@deep-ledger/core';
import { WorkerPool } from './worker-pool.js';

/** Reads workspaces so that long files hold up nobody: another thread parses them. */
@Injectable()
export class WorkspaceReader {
  constructor(private readonly workers: WorkerPool) {}

  /** @param before an earlier reading: what it has is not read again */
  async read(files: WorkspaceFiles, before?: WorkspaceReading): Promise<WorkspaceReading> {
    const task = aheadTask(files, before);
    const ahead = await this.workers.runFor([task.texts], 'readAhead', task);
    return readWorkspace(files, before, ahead);
  }
}
