import { Body, Controller, Get, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiCreatedResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { DraftService } from '../drafts/draft.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { JournalService } from './journal.service.js';
import { PostDraftDto, PostDto } from './post.dto.js';
import { toPost } from './post.mapper.js';

@ApiTags('journal')
@ApiProblems()
@Controller('workspaces/:slug')
export class JournalController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly drafts: DraftService,
    private readonly journal: JournalService,
  ) {}

  @Get('posts')
  @ApiOperation({ operationId: 'listPosts', summary: 'All posts, newest first' })
  @ApiOkResponse({ type: [PostDto] })
  async list(@Param('slug') slug: string): Promise<PostDto[]> {
    return (await this.journal.list(await this.workspaces.bySlug(slug))).map(toPost);
  }

  @Post('drafts/:id/post')
  @ApiOperation({
    operationId: 'postDraft',
    summary: 'Write a draft into the repository as one commit',
  })
  @ApiCreatedResponse({ type: PostDto })
  async post(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() body: PostDraftDto,
  ): Promise<PostDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    return toPost(await this.journal.post(workspace, draft, body));
  }
}
