import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { AnswersModule } from '../answers/answers.module.js';
import { Clock } from '../clock.js';
import { GitModule } from '../git/git.module.js';
import { JobsModule } from '../jobs/jobs.module.js';
import { RegistryModule } from '../registry/registry.module.js';
import { ScanModule } from '../scan/scan.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { CommitFiguresEntity } from './commit-figures.entity.js';
import { FindingsController } from './findings.controller.js';
import { FindingsService } from './findings.service.js';
import { FindingsHistory } from './history.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([CommitFiguresEntity]),
    AnswersModule,
    GitModule,
    JobsModule,
    RegistryModule,
    ScanModule,
    WorkspacesModule,
  ],
  controllers: [FindingsController],
  providers: [FindingsService, FindingsHistory, Clock],
})
export class FindingsModule {}
