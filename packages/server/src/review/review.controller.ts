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
import type { DraftEntity } from '../drafts/draft.entity.js';
import { DraftService } from '../drafts/draft.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { CurrentActor, type AccountActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
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
    @Body() { revision }: ApproveDto,
    @CurrentActor() actor: Actor,
  ): Promise<ReviewDto> {
    return this.after(slug, id, actor, (draft) =>
      this.reviews.approve(draft, revision, person(actor)),
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
    return this.after(slug, id, actor, (draft) => this.reviews.withdraw(draft, person(actor)));
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
    work: (draft: DraftEntity, workspace: WorkspaceEntity) => Promise<void>,
  ): Promise<ReviewDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    await work(draft, workspace);
    return this.reviews.of(workspace, draft, actor);
  }
}

/** @throws Problem NOT_ALLOWED for a machine */
function person(actor: Actor): AccountActor {
  if (actor.kind === 'account') return actor;
  throw new Problem('NOT_ALLOWED', 403, 'Not allowed', 'Approval is a person’s, not a token’s.');
}
