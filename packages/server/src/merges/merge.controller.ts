import { Body, Controller, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import {
  ApiCreatedResponse,
  ApiNoContentResponse,
  ApiOkResponse,
  ApiOperation,
  ApiTags,
} from '@nestjs/swagger';
import { PostDto } from '../journal/post.dto.js';
import { toPost } from '../journal/post.mapper.js';
import { ApiProblems } from '../problems/api-problems.js';
import {
  CurrentAccount,
  CurrentActor,
  personOf,
  type AccountActor,
  type Actor,
} from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
  BranchDto,
  MergePreviewDto,
  MergeTermsDto,
  PostMergeDto,
  SeenMergeDto,
} from './merge.dto.js';
import { MergeService } from './merge.service.js';

@ApiTags('merges')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/merges')
export class MergeController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly merges: MergeService,
  ) {}

  @Get('branches')
  @ApiOperation({ operationId: 'listBranches', summary: 'Branches that could be merged' })
  @ApiOkResponse({ type: [BranchDto] })
  async branches(@Param('slug') slug: string): Promise<BranchDto[]> {
    return this.merges.branches(await this.workspaces.bySlug(slug));
  }

  @Post('preview')
  @HttpCode(200)
  @ApiOperation({
    operationId: 'previewMerge',
    summary: 'The result of merging a branch: its conflicts, or the files and the lockfile',
  })
  @ApiOkResponse({ type: MergePreviewDto })
  async preview(
    @Param('slug') slug: string,
    @Body() body: MergeTermsDto,
    @CurrentActor() actor: Actor,
  ): Promise<MergePreviewDto> {
    return this.merges.preview(await this.workspaces.bySlug(slug), body, actor);
  }

  @Put('approval')
  @HttpCode(204)
  @Needs('draft')
  @ApiOperation({ operationId: 'approveMerge', summary: 'Approve the result of a merge' })
  @ApiNoContentResponse()
  async approve(
    @Param('slug') slug: string,
    @Body() body: SeenMergeDto,
    @CurrentActor() actor: Actor,
  ): Promise<void> {
    await this.merges.approve(await this.workspaces.bySlug(slug), body, personOf(actor));
  }

  @Post('post')
  @Needs('post')
  @ApiOperation({ operationId: 'postMerge', summary: 'Write a merge commit with both parents' })
  @ApiCreatedResponse({ type: PostDto })
  async post(
    @Param('slug') slug: string,
    @Body() body: PostMergeDto,
    @CurrentAccount() actor: AccountActor,
  ): Promise<PostDto> {
    const entity = await this.workspaces.bySlug(slug);
    return toPost(await this.merges.post(entity, body, actor));
  }
}
