import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Post,
  Put,
} from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { DraftEvaluator, standOf, type DraftStand } from '../drafts/draft-evaluator.js';
import { editsOf, type DraftEntity } from '../drafts/draft.entity.js';
import { DraftService } from '../drafts/draft.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { CurrentActor, personOf, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { ApproveDto, NewCommentDto, ReviewDto } from './review.dto.js';
import { ReviewService } from './review.service.js';

@ApiTags('review')
@ApiProblems()
@Controller('workspaces/:slug/drafts/:id')
export class ReviewController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly drafts: DraftService,
    private readonly evaluator: DraftEvaluator,
    private readonly snapshots: SnapshotService,
    private readonly reviews: ReviewService,
  ) {}

  @Get('review')
  @Needs('read')
  @ApiOperation({ operationId: 'readReview', summary: 'Approvals of a draft, and comments on it' })
  @ApiOkResponse({ type: ReviewDto })
  async read(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @CurrentActor() actor: Actor,
  ): Promise<ReviewDto> {
    return this.after(slug, id, actor, () => Promise.resolve());
  }

  @Put('approval')
  @Needs('draft')
  @ApiOperation({ operationId: 'approveDraft', summary: 'Approve a draft as it stands' })
  @ApiOkResponse({ type: ReviewDto })
  async approve(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() seen: ApproveDto,
    @CurrentActor() actor: Actor,
  ): Promise<ReviewDto> {
    return this.after(slug, id, actor, (draft, stand) =>
      this.reviews.approve(draft, stand, seen, personOf(actor)),
    );
  }

  @Delete('approval')
  @Needs('draft')
  @ApiOperation({ operationId: 'withdrawApproval', summary: 'Take an approval back' })
  @ApiOkResponse({ type: ReviewDto })
  async withdraw(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @CurrentActor() actor: Actor,
  ): Promise<ReviewDto> {
    return this.after(slug, id, actor, (draft) => this.reviews.withdraw(draft, personOf(actor)));
  }

  @Post('comments')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({ operationId: 'commentDraft', summary: 'Say something of a draft or an edit' })
  @ApiOkResponse({ type: ReviewDto })
  async comment(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() body: NewCommentDto,
    @CurrentActor() actor: Actor,
  ): Promise<ReviewDto> {
    return this.after(slug, id, actor, (draft) => this.reviews.comment(draft, body, actor));
  }

  @Delete('comments/:comment')
  @Needs('draft')
  @ApiOperation({ operationId: 'removeComment', summary: "Take one's own comment away" })
  @ApiOkResponse({ type: ReviewDto })
  async removeComment(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('comment', ParseUUIDPipe) comment: string,
    @CurrentActor() actor: Actor,
  ): Promise<ReviewDto> {
    return this.after(slug, id, actor, (draft) =>
      this.reviews.removeComment(draft, comment, actor),
    );
  }

  private async after(
    slug: string,
    id: string,
    actor: Actor,
    work: (draft: DraftEntity, stand: DraftStand) => Promise<void>,
  ): Promise<ReviewDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    const snapshot = await this.snapshots.read(workspace);
    const stand = standOf(await this.evaluator.evaluate(workspace, snapshot, editsOf(draft)));
    await work(draft, stand);
    return this.reviews.of(workspace, draft, stand, actor);
  }
}
