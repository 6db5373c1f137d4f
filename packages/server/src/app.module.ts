import { Global, Module, type DynamicModule } from '@nestjs/common';
import { APP_FILTER } from '@nestjs/core';
import { TypeOrmModule } from '@nestjs/typeorm';
import type { Logger } from 'pino';
import { BringInModule } from './bring-in/bring-in.module.js';
import { BrokenConnections } from './database/broken-connections.js';
import { dataSourceOptions } from './database/data-source-options.js';
import { DriftModule } from './drift/drift.module.js';
import { DraftsModule } from './drafts/drafts.module.js';
import { FilesModule } from './files/files.module.js';
import { RegistryPageModule } from './registry-page/registry-page.module.js';
import { StandingModule } from './standing/standing.module.js';
import { UpgradesModule } from './upgrades/upgrades.module.js';
import { FindingsModule } from './findings/findings.module.js';
import { HealthModule } from './health/health.module.js';
import { HousekeepingModule } from './housekeeping/housekeeping.module.js';
import { JournalModule } from './journal/journal.module.js';
import { JobsModule } from './jobs/jobs.module.js';
import { LiveModule } from './live/live.module.js';
import { LockModule } from './lock/lock.module.js';
import { LOGGER } from './logging/nest-logger.js';
import { MergesModule } from './merges/merges.module.js';
import { ModelModule } from './model/model.module.js';
import { ProblemFilter } from './problems/problem.filter.js';
import { ProjectsModule } from './projects/projects.module.js';
import { MachinesModule } from './machines/machines.module.js';
import { SETTINGS, type Settings } from './settings.js';
import { ReviewModule } from './review/review.module.js';
import { SharedModule } from './shared/shared.module.js';
import { ArchivesModule } from './archives/archives.module.js';
import { AlignmentModule } from './alignment/alignment.module.js';
import { TeamModule } from './team/team.module.js';
import { TraceModule } from './trace/trace.module.js';
import { WorkspacesModule } from './workspaces/workspaces.module.js';

@Global()
@Module({})
export class AppModule {
  static with(settings: Settings, log: Logger): DynamicModule {
    return {
      module: AppModule,
      imports: [
        TypeOrmModule.forRoot(dataSourceOptions(settings.databaseUrl)),
        WorkspacesModule,
        AlignmentModule,
        ProjectsModule,
        SharedModule,
        ModelModule,
        BringInModule,
        DraftsModule,
        JournalModule,
        FindingsModule,
        UpgradesModule,
        StandingModule,
        ArchivesModule,
        RegistryPageModule,
        FilesModule,
        TraceModule,
        ReviewModule,
        JobsModule,
        LiveModule,
        LockModule,
        MergesModule,
        DriftModule,
        MachinesModule,
        TeamModule,
        HealthModule,
        HousekeepingModule,
      ],
      providers: [
        { provide: SETTINGS, useValue: settings },
        { provide: LOGGER, useValue: log },
        { provide: APP_FILTER, useClass: ProblemFilter },
        BrokenConnections,
      ],
      exports: [SETTINGS, LOGGER],
    };
  }
}
