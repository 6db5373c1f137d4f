import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { ScanModule } from '../scan/scan.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { AnswerEntity } from './answer.entity.js';
import { AnswersService } from './answers.service.js';
import { BaseThread } from './base-thread.js';

@Module({
  imports: [TypeOrmModule.forFeature([AnswerEntity]), JobsModule, ScanModule, WorkspacesModule],
  providers: [AnswersService, BaseThread, Clock],
  exports: [AnswersService],
})
export class AnswersModule {}
