import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { DraftsModule } from '../drafts/drafts.module.js';
import { Exclusive } from '../database/exclusive.js';
import { GitModule } from '../git/git.module.js';
import { ReviewModule } from '../review/review.module.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkersModule } from '../workers/workers.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { HistoryController } from './history.controller.js';
import { HistoryService } from './history.service.js';
import { JournalController } from './journal.controller.js';
import { DraftPosting } from './draft-posting.js';
import { Landing } from './landing.service.js';
import { PostEntity } from './post.entity.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([PostEntity, WorkspaceEntity]),
    WorkersModule,
    WorkspacesModule,
    DraftsModule,
    ReviewModule,
    GitModule,
  ],
  controllers: [JournalController, HistoryController],
  exports: [Landing, DraftPosting],
  providers: [Landing, DraftPosting, HistoryService, Exclusive, Clock],
})
export class JournalModule {}
