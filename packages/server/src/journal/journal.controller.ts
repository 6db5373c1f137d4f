import { Body, Controller, Get, Header, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import {
  ApiCreatedResponse,
  ApiOkResponse,
  ApiOperation,
  ApiProduces,
  ApiTags,
} from '@nestjs/swagger';
import { DraftService } from '../drafts/draft.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import {
  authorOf,
  CurrentAccount,
  CurrentActor,
  type AccountActor,
  type Actor,
} from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { DraftPosting } from './draft-posting.js';
import { HistoryService } from './history.service.js';
import { Landing } from './landing.service.js';
import { PostDraftDto, PostDto } from './post.dto.js';
import { toPost } from './post.mapper.js';

@ApiTags('journal')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class JournalController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly drafts: DraftService,
    private readonly posting: DraftPosting,
    private readonly landing: Landing,
    private readonly history: HistoryService,
  ) {}

  @Get('posts')
  @ApiOperation({ operationId: 'listPosts', summary: 'All posts, newest first' })
  @ApiOkResponse({ type: [PostDto] })
  async list(@Param('slug') slug: string): Promise<PostDto[]> {
    const workspace = await this.workspaces.bySlug(slug);
    await this.landing.catchUp(workspace);
    return (await this.history.listPosts(workspace)).map(toPost);
  }

  @Get('drafts/:id/patch')
  @ApiOperation({ operationId: 'draftPatch', summary: 'A draft as a patch that git am takes' })
  @ApiProduces('text/x-patch')
  @ApiOkResponse({ schema: { type: 'string' } })
  @Header('content-type', 'text/x-patch; charset=utf-8')
  async patch(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @CurrentActor() actor: Actor,
  ): Promise<string> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    return this.posting.patch(workspace, draft, authorOf(actor));
  }

  @Post('drafts/:id/post')
  @Needs('post')
  @ApiOperation({
    operationId: 'postDraft',
    summary: 'Write a draft into the repository as one commit',
  })
  @ApiCreatedResponse({ type: PostDto })
  async post(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() body: PostDraftDto,
    @CurrentAccount() actor: AccountActor,
  ): Promise<PostDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    return toPost(await this.posting.post(workspace, draft, body, authorOf(actor)));
  }
}
