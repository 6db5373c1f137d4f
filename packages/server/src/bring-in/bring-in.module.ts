import { Module } from '@nestjs/common';
import { DraftsModule } from '../drafts/drafts.module.js';
import { GitModule } from '../git/git.module.js';
import { JournalModule } from '../journal/journal.module.js';
import { WorkersModule } from '../workers/workers.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { BringInController } from './bring-in.controller.js';
import { BringInService } from './bring-in.service.js';
import { BringInThread } from './bring-in-thread.js';

@Module({
  imports: [WorkspacesModule, DraftsModule, JournalModule, GitModule, WorkersModule],
  controllers: [BringInController],
  providers: [BringInService, BringInThread],
})
export class BringInModule {}
