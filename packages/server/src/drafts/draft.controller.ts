import {
  Body,
  Controller,
  Delete,
  Get,
  HttpCode,
  Param,
  ParseUUIDPipe,
  Patch,
  Post,
  Put,
} from '@nestjs/common';
import {
  ApiCreatedResponse,
  ApiNoContentResponse,
  ApiOkResponse,
  ApiOperation,
  ApiTags,
} from '@nestjs/swagger';
import { ApiProblems } from '../problems/api-problems.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
  ChangeDraftDto,
  DraftDto,
  DraftSummaryDto,
  LevelDto,
  NewDraftDto,
  SetEditsDto,
} from './draft.dto.js';
import type { DraftEntity } from './draft.entity.js';
import { toDraft, toDraftSummary } from './draft.mapper.js';
import { DraftService } from './draft.service.js';

@ApiTags('drafts')
@ApiProblems()
@Controller('workspaces/:slug/drafts')
export class DraftController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly drafts: DraftService,
  ) {}

  @Get()
  @ApiOperation({ operationId: 'listDrafts', summary: 'Drafts that are not posted, oldest first' })
  @ApiOkResponse({ type: [DraftSummaryDto] })
  async list(@Param('slug') slug: string): Promise<DraftSummaryDto[]> {
    return (await this.drafts.list(await this.workspaces.bySlug(slug))).map(toDraftSummary);
  }

  @Post()
  @ApiOperation({ operationId: 'createDraft', summary: 'Begin a draft at the head of the branch' })
  @ApiCreatedResponse({ type: DraftDto })
  async create(@Param('slug') slug: string, @Body() { name }: NewDraftDto): Promise<DraftDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const snapshot = await this.snapshots.read(workspace);
    return this.shown(await this.drafts.create(workspace, snapshot, name), snapshot);
  }

  @Get(':id')
  @ApiOperation({
    operationId: 'readDraft',
    summary: 'A draft, evaluated at the head of the branch',
  })
  @ApiOkResponse({ type: DraftDto })
  async read(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<DraftDto> {
    const { draft, snapshot } = await this.find(slug, id);
    return this.shown(draft, snapshot);
  }

  @Patch(':id')
  @ApiOperation({
    operationId: 'changeDraft',
    summary: 'Rename a draft, or say that it was seen on a new head',
  })
  @ApiOkResponse({ type: DraftDto })
  async change(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() body: ChangeDraftDto,
  ): Promise<DraftDto> {
    const { draft, snapshot } = await this.find(slug, id);
    return this.shown(await this.drafts.change(draft, body), snapshot);
  }

  @Put(':id/edits')
  @ApiOperation({ operationId: 'setEdits', summary: 'Replace all edits of a draft' })
  @ApiOkResponse({ type: DraftDto })
  async setEdits(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { edits }: SetEditsDto,
  ): Promise<DraftDto> {
    const { draft, snapshot } = await this.find(slug, id);
    return this.shown(await this.drafts.setEdits(draft, edits), snapshot);
  }

  @Put(':id/packages/:name')
  @ApiOperation({
    operationId: 'levelPackage',
    summary: 'Level a package at a version, in place of earlier edits about it',
  })
  @ApiOkResponse({ type: DraftDto })
  async level(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('name') name: string,
    @Body() { version }: LevelDto,
  ): Promise<DraftDto> {
    const { draft, snapshot } = await this.find(slug, id);
    return this.shown(await this.drafts.level(draft, snapshot, name, version), snapshot);
  }

  @Delete(':id')
  @HttpCode(204)
  @ApiOperation({ operationId: 'deleteDraft', summary: 'Throw a draft away; it can be restored' })
  @ApiNoContentResponse()
  async remove(@Param('slug') slug: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.drafts.throwAway(await this.drafts.byId(await this.workspaces.bySlug(slug), id));
  }

  @Post(':id/restore')
  @HttpCode(200)
  @ApiOperation({ operationId: 'restoreDraft', summary: 'Bring back a draft that was thrown away' })
  @ApiOkResponse({ type: DraftDto })
  async restore(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<DraftDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.restore(workspace, id);
    return this.shown(draft, await this.snapshots.read(workspace));
  }

  private async find(
    slug: string,
    id: string,
  ): Promise<{ workspace: WorkspaceEntity; draft: DraftEntity; snapshot: Snapshot }> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    return { workspace, draft, snapshot: await this.snapshots.read(workspace) };
  }

  private shown(draft: DraftEntity, snapshot: Snapshot): DraftDto {
    return toDraft(draft, snapshot, this.drafts.evaluate(snapshot, draft.edits));
  }
}
