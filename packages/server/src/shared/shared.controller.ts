import { Body, Controller, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { centralisingEdits, proposeCentralising } from '@deep-ledger/core';
import { DraftChanges } from '../drafts/draft-changes.js';
import { DraftDto } from '../drafts/draft.dto.js';
import { toDraft } from '../drafts/draft.mapper.js';
import { DraftService } from '../drafts/draft.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { CentralisingChosenDto, CentralisingDto, SharedDto } from './shared.dto.js';
import { toCentralising, toShared } from './shared.mapper.js';

@ApiTags('shared')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class SharedController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly drafts: DraftService,
    private readonly changes: DraftChanges,
  ) {}

  @Get('shared')
  @ApiOperation({
    operationId: 'readShared',
    summary: 'What the workspace has agreed on: versions, sets, pins, exceptions, policy',
  })
  @ApiOkResponse({ type: SharedDto })
  async shared(@Param('slug') slug: string): Promise<SharedDto> {
    const { head, base } = await this.snapshots.read(await this.workspaces.bySlug(slug));
    if (base.workspace === null) {
      throw new Problem(
        'NO_WORKSPACE',
        422,
        'The workspace cannot be read',
        'ledger.toml says nothing that can be used. Repair it first.',
      );
    }
    return toShared(head.commit, base, base.workspace);
  }

  @Get('centralise')
  @ApiOperation({
    operationId: 'readCentralising',
    summary: 'Versions that could be centralised: agreed on once in the shared file',
  })
  @ApiOkResponse({ type: CentralisingDto })
  async centralising(@Param('slug') slug: string): Promise<CentralisingDto> {
    const { head, base } = await this.snapshots.read(await this.workspaces.bySlug(slug));
    return toCentralising(head.commit, proposeCentralising(base));
  }

  @Post('drafts/:id/centralise')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({
    operationId: 'centralise',
    summary: 'Add the edits that centralise chosen versions',
  })
  @ApiOkResponse({ type: DraftDto })
  async centralise(
    @Param('slug') slug: string,
    @Param('id', ParseUUIDPipe) id: string,
    @Body() { lines, sets }: CentralisingChosenDto,
    @CurrentActor() actor: Actor,
  ): Promise<DraftDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const draft = await this.drafts.byId(workspace, id);
    const snapshot = await this.snapshots.read(workspace);
    const known = proposeCentralising(snapshot.base).sets.filter(({ name }) => sets.includes(name));
    const edits = centralisingEdits(snapshot.base, lines, known);
    const changed = await this.changes.add(workspace, snapshot, draft, actor, () => edits);
    const steps = await this.drafts.steps(changed.draft, actor);
    return toDraft(changed.draft, changed.evaluated, steps, actor);
  }
}
