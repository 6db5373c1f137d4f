import { Module } from '@nestjs/common';
import { DraftsModule } from '../drafts/drafts.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { SharedController } from './shared.controller.js';

@Module({
  imports: [WorkspacesModule, DraftsModule],
  controllers: [SharedController],
})
export class SharedModule {}
