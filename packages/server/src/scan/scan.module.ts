import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { GitModule } from '../git/git.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { KnownService } from './known.service.js';
import { ScanController } from './scan.controller.js';
import { ScanService } from './scan.service.js';
import { WorkersModule } from '../workers/workers.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { SourceScanEntity } from './source-scan.entity.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([SourceScanEntity]),
    GitModule,
    JobsModule,
    WorkersModule,
    WorkspacesModule,
  ],
  controllers: [ScanController],
  providers: [ScanService, KnownService],
  exports: [ScanService, KnownService],
})
export class ScanModule {}
