import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { ScanModule } from '../scan/scan.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { AnswerEntity } from './answer.entity.js';
import { AnswerStore } from './answer-store.js';
import { AnswersService } from './answers.service.js';
import { BaseThread } from './base-thread.js';

@Module({
  imports: [TypeOrmModule.forFeature([AnswerEntity]), JobsModule, ScanModule, WorkspacesModule],
  providers: [AnswersService, AnswerStore, BaseThread, Clock],
  exports: [AnswersService, AnswerStore],
})
export class AnswersModule {}
