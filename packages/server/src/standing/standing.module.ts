import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AnswersModule } from '../answers/answers.module.js';
import { Clock } from '../clock.js';
import { Exclusive } from '../database/exclusive.js';
import { DraftsModule } from '../drafts/drafts.module.js';
import { GitModule } from '../git/git.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { JournalModule } from '../journal/journal.module.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { StandingClock } from './standing-clock.js';
import { StandingController } from './standing.controller.js';
import { StandingOrderEntity, StandingRunEntity } from './standing.entity.js';
import { StandingOrders } from './standing-orders.service.js';
import { StandingWork } from './standing-work.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([StandingOrderEntity, StandingRunEntity, WorkspaceEntity]),
    AnswersModule,
    DraftsModule,
    GitModule,
    JobsModule,
    JournalModule,
    WorkspacesModule,
  ],
  controllers: [StandingController],
  providers: [StandingOrders, StandingWork, StandingClock, Exclusive, Clock],
})
export class StandingModule {}
