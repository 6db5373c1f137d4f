import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { LiveModule } from '../live/live.module.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { JobEntity } from './job.entity.js';
import { JobsController } from './jobs.controller.js';
import { JobsService } from './jobs.service.js';
import { Queue } from './queue.js';

@Module({
  imports: [TypeOrmModule.forFeature([JobEntity, WorkspaceEntity]), WorkspacesModule, LiveModule],
  controllers: [JobsController],
  providers: [JobsService, Queue, Clock],
  exports: [JobsService],
})
export class JobsModule {}
