import { Module } from '@nestjs/common';
import { WorkerPool } from './worker-pool.js';
import { WorkspaceReader } from './workspace-reader.js';

@Module({ providers: [WorkerPool, WorkspaceReader], exports: [WorkerPool, WorkspaceReader] })
export class WorkersModule {}
