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
import { editsWithoutLevel } from '@deep-ledger/core';
import { ApiProblems } from '../problems/api-problems.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { DraftChanges, type ChangedDraft } from './draft-changes.js';
import { DraftEvaluator } from './draft-evaluator.js';
import {
  AddEditsDto,
  ChangeDraftDto,
  DraftDto,
  DraftSummaryDto,
  LevelDto,
  LevelManyDto,
  NewDraftDto,
  SetEntriesDto,
  SuggestedFixesDto,
} from './draft.dto.js';
import { editsOf, type DraftEntity } from './draft.entity.js';
import {
  editFrom,
  entriesFrom,
  toDraft,
  toDraftSummary,
  toSuggestedFixes,
} from './draft.mapper.js';
import { DraftService } from './draft.service.js';
import { LevelService } from './level.service.js';

@ApiTags('drafts')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/drafts')
export class DraftController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly drafts: DraftService,
    private readonly evaluator: DraftEvaluator,
    private readonly changes: DraftChanges,
    private readonly levels: LevelService,
  ) {}

  @Get()
  @ApiOperation({ operationId: 'listDrafts', summary: 'Drafts that are not posted, oldest first' })
  @ApiOkResponse({ type: [DraftSummaryDto] })
  async list(
    @Param('slug') slug: string,
    @CurrentActor() actor: Actor,
  ): Promise<DraftSummaryDto[]> {
    const drafts = await this.drafts.list(await this.workspaces.bySlug(slug));
    return drafts.map((draft) => toDraftSummary(draft, actor));
  }

  @Post()
  @Needs('draft')
  @ApiOperation({ operationId: 'createDraft', summary: 'Begin a draft at the head of the branch' })
  @ApiCreatedResponse({ type: DraftDto })
  async create(
    @Param('slug') slug: string,
    @Body() body: NewDraftDto,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const snapshot = await this.snapshots.read(workspace);
    return this.answer(await this.changes.begin(workspace, snapshot, body, actor), actor);
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
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    return this.shown(workspace, draft, snapshot, actor);
  }

  @Patch(':id')
  @Needs('draft')
  @ApiOperation({
    operationId: 'changeDraft',
    summary: 'Rename a draft, or say that it was seen on a new head',
  })
  @ApiOkResponse({ type: DraftDto })
  async change(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() body: ChangeDraftDto,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    return this.shown(workspace, await this.drafts.change(draft, body), snapshot, actor);
  }

  @Put(':id/entries')
  @Needs('draft')
  @ApiOperation({
    operationId: 'setEntries',
    summary: 'Replace all edits of a draft: take out, put back, reorder',
  })
  @ApiOkResponse({ type: DraftDto })
  async setEntries(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { revision, entries }: SetEntriesDto,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    const changed = await this.changes.replace(
      workspace,
      snapshot,
      draft,
      actor,
      revision,
      entriesFrom(entries),
    );
    return this.answer(changed, actor);
  }

  @Post(':id/edits')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({ operationId: 'addEdits', summary: 'Add edits at the end of a draft' })
  @ApiOkResponse({ type: DraftDto })
  async addEdits(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { edits }: AddEditsDto,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    const added = edits.map(editFrom);
    return this.answer(
      await this.changes.add(workspace, snapshot, draft, actor, () => added),
      actor,
    );
  }

  @Put(':id/packages/:name')
  @Needs('draft')
  @ApiOperation({
    operationId: 'levelPackage',
    summary: 'Level a package at a version, in place of an earlier levelling',
  })
  @ApiOkResponse({ type: DraftDto })
  async level(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Param('name') name: string,
    @Body() { version }: LevelDto,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    const changed = await this.changes.change(workspace, snapshot, draft, actor, (now) => [
      ...now.entries.filter(({ edit }) => editsWithoutLevel([edit], name).length > 0),
      ...this.levels
        .at(snapshot, editsOf(now), name, version)
        .map((edit) => ({ edit, isOut: false })),
    ]);
    return this.answer(changed, actor);
  }

  @Post(':id/level')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({
    operationId: 'levelPackages',
    summary: 'Level packages at what is agreed, or, where nothing is, at the newest in use',
  })
  @ApiOkResponse({ type: DraftDto })
  async levelMany(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { packages, to }: LevelManyDto,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    const changed = await this.changes.add(workspace, snapshot, draft, actor, (now) =>
      this.levels.many(snapshot, editsOf(now), packages, to),
    );
    return this.answer(changed, actor);
  }

  @Post(':id/undo')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({ operationId: 'undoDraft', summary: 'Take back the last change of a draft' })
  @ApiOkResponse({ type: DraftDto })
  async undo(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    return this.shown(workspace, await this.drafts.step(draft, actor, -1), snapshot, actor);
  }

  @Post(':id/redo')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({ operationId: 'redoDraft', summary: 'Do again what was undone last' })
  @ApiOkResponse({ type: DraftDto })
  async redo(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    return this.shown(workspace, await this.drafts.step(draft, actor, 1), snapshot, actor);
  }

  @Get(':id/suggested-fixes')
  @ApiOperation({
    operationId: 'suggestedFixes',
    summary: 'For a draft without an answer: the smallest changes that would give one',
  })
  @ApiOkResponse({ type: [SuggestedFixesDto] })
  async suggestedFixes(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
  ): Promise<SuggestedFixesDto[]> {
    const { workspace, draft, snapshot } = await this.find(slug, id);
    const edits = editsOf(draft);
    const evaluated = await this.evaluator.evaluate(workspace, snapshot, edits);
    return (await this.evaluator.suggestedFixes(workspace, evaluated, edits)).map(toSuggestedFixes);
  }

  @Delete(':id')
  @HttpCode(204)
  @Needs('draft')
  @ApiOperation({ operationId: 'deleteDraft', summary: 'Throw a draft away; it can be restored' })
  @ApiNoContentResponse()
  async remove(@Param('slug') slug: string, @Param('id', ParseUUIDPipe) id: string): Promise<void> {
    await this.drafts.throwAway(await this.drafts.byId(await this.workspaces.bySlug(slug), id));
  }

  @Post(':id/restore')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({ operationId: 'restoreDraft', summary: 'Bring back a draft that was thrown away' })
  @ApiOkResponse({ type: DraftDto })
  async restore(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.restore(workspace, id);
    return this.shown(workspace, draft, await this.snapshots.read(workspace), actor);
  }

  private async find(
    slug: string,
    id: string,
  ): Promise<{ workspace: WorkspaceEntity; draft: DraftEntity; snapshot: Snapshot }> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    return { workspace, draft, snapshot: await this.snapshots.read(workspace) };
  }

  private async shown(
    workspace: WorkspaceEntity,
    draft: DraftEntity,
    snapshot: Snapshot,
    actor: Actor,
  ): Promise<DraftDto> {
    const evaluated = await this.evaluator.evaluate(workspace, snapshot, editsOf(draft));
    return this.answer({ draft, evaluated }, actor);
  }

  private async answer({ draft, evaluated }: ChangedDraft, actor: Actor): Promise<DraftDto> {
    return toDraft(draft, evaluated, await this.drafts.steps(draft, actor), actor);
  }
}
