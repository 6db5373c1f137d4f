import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { DraftController } from './draft.controller.js';
import { DraftEntity } from './draft.entity.js';
import { DraftService } from './draft.service.js';

@Module({
  imports: [TypeOrmModule.forFeature([DraftEntity]), WorkspacesModule],
  controllers: [DraftController],
  providers: [DraftService, Clock],
  exports: [DraftService],
})
export class DraftsModule {}
