import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AnswersModule } from '../answers/answers.module.js';
import { Clock } from '../clock.js';
import { GitModule } from '../git/git.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { JournalModule } from '../journal/journal.module.js';
import { RegistryModule } from '../registry/registry.module.js';
import { WorkersModule } from '../workers/workers.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { MergeApprovalEntity } from './merge-approval.entity.js';
import { MergeApprovals } from './merge-approvals.js';
import { MergeController } from './merge.controller.js';
import { MergeService } from './merge.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([MergeApprovalEntity]),
    AnswersModule,
    WorkspacesModule,
    JobsModule,
    JournalModule,
    GitModule,
    RegistryModule,
    WorkersModule,
  ],
  controllers: [MergeController],
  providers: [MergeService, MergeApprovals, Clock],
})
export class MergesModule {}
