import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { Exclusive } from '../database/exclusive.js';
import { GitModule } from '../git/git.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { RegistryModule } from '../registry/registry.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { ArchiveFolder } from './archive-folder.js';
import { ArchiveSourcesOf } from './archive-sources.js';
import { ArchiveEntity, ArchiveRoundEntity, ArchiveUseEntity } from './archive.entity.js';
import { ArchivesController } from './archives.controller.js';
import { ArchivesService } from './archives.service.js';
import { MirrorClock } from './mirror-clock.js';
import { MirrorWork } from './mirror-work.js';
import { NamedArchives } from './named-archives.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([ArchiveEntity, ArchiveUseEntity, ArchiveRoundEntity]),
    GitModule,
    JobsModule,
    RegistryModule,
    WorkspacesModule,
  ],
  controllers: [ArchivesController],
  providers: [
    ArchiveFolder,
    ArchiveSourcesOf,
    ArchivesService,
    MirrorClock,
    MirrorWork,
    NamedArchives,
    Exclusive,
    Clock,
  ],
})
export class ArchivesModule {}
