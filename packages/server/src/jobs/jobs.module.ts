import { Module } from '@nestjs/common';
import { APP_INTERCEPTOR } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { LiveModule } from '../live/live.module.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { JobEntity } from './job.entity.js';
import { JobsController } from './jobs.controller.js';
import { JobsService } from './jobs.service.js';
import { LaterAnswers } from './later-answers.js';
import { Queue } from './queue.js';

@Module({
  imports: [TypeOrmModule.forFeature([JobEntity, WorkspaceEntity]), WorkspacesModule, LiveModule],
  controllers: [JobsController],
  providers: [JobsService, Queue, Clock, { provide: APP_INTERCEPTOR, useClass: LaterAnswers }],
  exports: [JobsService],
})
export class JobsModule {}
