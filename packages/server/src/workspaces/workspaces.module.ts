import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { ArchiveUseEntity } from '../archives/archive.entity.js';
import { Clock } from '../clock.js';
import { CredentialsModule } from '../credentials/credentials.module.js';
import { Exclusive } from '../database/exclusive.js';
import { ReportEntity } from '../machines/report.entity.js';
import { DraftEntity } from '../drafts/draft.entity.js';
import { GitModule } from '../git/git.module.js';
import { PostEntity } from '../journal/post.entity.js';
import { RegistryModule } from '../registry/registry.module.js';
import { WorkersModule } from '../workers/workers.module.js';
import { CredentialsAtRest } from './credentials-at-rest.js';
import { SnapshotService } from './snapshot.service.js';
import { WorkspaceController } from './workspace.controller.js';
import { WorkspaceEntity } from './workspace.entity.js';
import { WorkspaceService } from './workspace.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([
      WorkspaceEntity,
      DraftEntity,
      PostEntity,
      ReportEntity,
      ArchiveUseEntity,
    ]),
    GitModule,
    RegistryModule,
    CredentialsModule,
    WorkersModule,
  ],
  controllers: [WorkspaceController],
  providers: [WorkspaceService, SnapshotService, CredentialsAtRest, Clock, Exclusive],
  exports: [WorkspaceService, SnapshotService],
})
export class WorkspacesModule {}
