import { Module } from '@nestjs/common';
import { AnswersModule } from '../answers/answers.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { UpgradesController } from './upgrades.controller.js';

@Module({
  imports: [AnswersModule, WorkspacesModule],
  controllers: [UpgradesController],
})
export class UpgradesModule {}
