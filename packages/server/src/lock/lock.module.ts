import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { DraftsModule } from '../drafts/drafts.module.js';
import { GitModule } from '../git/git.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { TraceModule } from '../trace/trace.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { LockCommitEntity } from './lock-commit.entity.js';
import { LockHistoryService } from './lock-history.service.js';
import { LockController } from './lock.controller.js';
import { LockService } from './lock.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([LockCommitEntity]),
    WorkspacesModule,
    DraftsModule,
    GitModule,
    JobsModule,
    TraceModule,
  ],
  controllers: [LockController],
  providers: [LockHistoryService, LockService, Clock],
  exports: [LockHistoryService],
})
export class LockModule {}
