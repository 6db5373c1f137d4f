import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { GitModule } from '../git/git.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { RegistryModule } from '../registry/registry.module.js';
import { WorkersModule } from '../workers/workers.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { DriftPointEntity } from './drift-point.entity.js';
import { DriftController } from './drift.controller.js';
import { DriftService } from './drift.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([DriftPointEntity]),
    WorkspacesModule,
    GitModule,
    RegistryModule,
    WorkersModule,
    JobsModule,
  ],
  controllers: [DriftController],
  providers: [DriftService, Clock],
})
export class DriftModule {}
