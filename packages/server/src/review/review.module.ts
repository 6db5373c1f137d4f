import { Module } from '@nestjs/common';
import { TypeOrmModule } from '@nestjs/typeorm';
import { Clock } from '../clock.js';
import { DraftsModule } from '../drafts/drafts.module.js';
import { WorkspacesModule } from '../workspaces/workspaces.module.js';
import { ReviewController } from './review.controller.js';
import { ApprovalEntity, CommentEntity } from './review.entity.js';
import { ReviewService } from './review.service.js';

@Module({
  imports: [
    TypeOrmModule.forFeature([ApprovalEntity, CommentEntity]),
    WorkspacesModule,
    DraftsModule,
  ],
  controllers: [ReviewController],
  providers: [ReviewService, Clock],
  exports: [ReviewService],
})
export class ReviewModule {}
