import { Module } from '@nestjs/common';
import { APP_INTERCEPTOR } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import { TeamModule } from '../team/team.module.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { LiveController } from './live.controller.js';
import { LiveInterceptor } from './live.interceptor.js';
import { LiveService } from './live.service.js';
import { SnapshotExpiry } from './snapshot-expiry.js';

@Module({
  imports: [TypeOrmModule.forFeature([WorkspaceEntity]), WorkspacesModule, TeamModule],
  controllers: [LiveController],
  providers: [LiveService, SnapshotExpiry, { provide: APP_INTERCEPTOR, useClass: LiveInterceptor }],
  exports: [LiveService],
})
export class LiveModule {}
