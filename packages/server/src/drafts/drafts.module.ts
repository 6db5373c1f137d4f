import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { AnswersModule } from '../answers/answers.module.js';
import { GitModule } from '../git/git.module.js';
import { ScanModule } from '../scan/scan.module.js';
import { WorkersModule } from '../workers/workers.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { DraftController } from './draft.controller.js';
import { DraftChanges } from './draft-changes.js';
import { DraftEvaluator } from './draft-evaluator.js';
import { DraftEntity, DraftStateEntity } from './draft.entity.js';
import { DraftService } from './draft.service.js';
import { LevelService } from './level.service.js';
import { SeenLockfiles } from './seen-lockfiles.js';
import { TakeBacks } from './take-backs.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([DraftEntity, DraftStateEntity]),
    AnswersModule,
    ScanModule,
    WorkersModule,
    WorkspacesModule,
    GitModule,
  ],
  controllers: [DraftController],
  providers: [
    DraftService,
    DraftEvaluator,
    DraftChanges,
    SeenLockfiles,
    TakeBacks,
    LevelService,
    Clock,
  ],
  exports: [DraftService, DraftEvaluator, DraftChanges, SeenLockfiles, TakeBacks],
})
export class DraftsModule {}
