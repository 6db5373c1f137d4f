import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { ReportEntity } from '../machines/report.entity.js';
import { DraftEntity } from '../drafts/draft.entity.js';
import { GitModule } from '../git/git.module.js';
import { PostEntity } from '../journal/post.entity.js';
import { RegistryModule } from '../registry/registry.module.js';
import { SnapshotService } from './snapshot.service.js';
import { WorkspaceController } from './workspace.controller.js';
import { WorkspaceEntity } from './workspace.entity.js';
import { WorkspaceService } from './workspace.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([WorkspaceEntity, DraftEntity, PostEntity, ReportEntity]),
    GitModule,
    RegistryModule,
  ],
  controllers: [WorkspaceController],
  providers: [WorkspaceService, SnapshotService, Clock],
  exports: [WorkspaceService, SnapshotService],
})
export class WorkspacesModule {}
