import { Module } from '@nestjs/common';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { AlignmentController } from './alignment.controller.js';
import { AlignmentService } from './alignment.service.js';

@Module({
  imports: [WorkspacesModule],
  controllers: [AlignmentController],
  providers: [AlignmentService],
})
export class AlignmentModule {}
