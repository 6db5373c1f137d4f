import { Body, Controller, Get, HttpCode, Param, Post, Query, Res } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { editsOf } from '../drafts/draft.entity.js';
import { editFrom } from '../drafts/draft.mapper.js';
import { TakeBacks } from '../drafts/take-backs.js';
import { KeptAnswers } from '../kept-answers.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
  ChainsDto,
  ChainsQuery,
  LeavingDto,
  NodeQuery,
  TraceDto,
  TraceQuery,
  WeightsDto,
  WhatIfAnswerDto,
  WhatIfDto,
  WhySeveralDto,
  WithoutAnswerDto,
  WithoutDto,
} from './trace.dto.js';
import { TraceService } from './trace.service.js';
import { WhatIfService } from './what-if.service.js';

@ApiTags('trace')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class TraceController {
  private readonly answers = new KeptAnswers();

  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly traces: TraceService,
    private readonly whatIfs: WhatIfService,
    private readonly takeBacks: TakeBacks,
  ) {}

  @Get('trace')
  @ApiOperation({ operationId: 'readTrace', summary: 'Who brings it in, or what it brings' })
  @ApiOkResponse({ type: TraceDto })
  async trace(
    @Param('slug') slug: string,
    @Query() query: TraceQuery,
    @Res() response: Response,
  ): Promise<void> {
    const { head, base } = (await this.read(slug)).snapshot;
    await this.answers.send(response, base, JSON.stringify(query), () =>
      this.traces.trace(head.commit, base, query),
    );
  }

  @Get('trace/chains')
  @ApiOperation({ operationId: 'readChains', summary: 'The chains one by one, shortest first' })
  @ApiOkResponse({ type: ChainsDto })
  async chains(@Param('slug') slug: string, @Query() query: ChainsQuery): Promise<ChainsDto> {
    return this.traces.chains((await this.read(slug)).snapshot.base, query);
  }

  @Get('trace/leaving')
  @ApiOperation({ operationId: 'readLeaving', summary: 'What nothing else brings' })
  @ApiOkResponse({ type: LeavingDto })
  async leaving(@Param('slug') slug: string, @Query() { node }: NodeQuery): Promise<LeavingDto> {
    return this.traces.leaving((await this.read(slug)).snapshot.base, node);
  }

  @Get('trace/weights')
  @ApiOperation({ operationId: 'readWeights', summary: 'Requirements by what leaves with each' })
  @ApiOkResponse({ type: WeightsDto })
  async weights(@Param('slug') slug: string): Promise<WeightsDto> {
    const { snapshot } = await this.read(slug);
    const requirements = this.traces.weights(snapshot.base);
    return { commit: snapshot.head.commit, requirements };
  }

  @Get('trace/copies/:name')
  @ApiOperation({ operationId: 'readSeveral', summary: 'Why a package has the copies it has' })
  @ApiOkResponse({ type: WhySeveralDto })
  async several(@Param('slug') slug: string, @Param('name') name: string): Promise<WhySeveralDto> {
    const { entity, snapshot } = await this.read(slug);
    return this.traces.several(entity, snapshot, name);
  }

  @Post('trace/without')
  @HttpCode(200)
  @ApiOperation({
    operationId: 'traceWithout',
    summary: 'What would leave if some links were not there',
  })
  @ApiOkResponse({ type: WithoutAnswerDto })
  async without(
    @Param('slug') slug: string,
    @Body() { links }: WithoutDto,
  ): Promise<WithoutAnswerDto> {
    const { head, base } = (await this.read(slug)).snapshot;
    return { commit: head.commit, ...this.traces.without(base, links) };
  }

  @Post('what-if')
  @HttpCode(200)
  @ApiOperation({ operationId: 'whatIf', summary: 'The effect of edits; keeps nothing' })
  @ApiOkResponse({ type: WhatIfAnswerDto })
  async whatIf(
    @Param('slug') slug: string,
    @Body() { edits, suggestedFixes }: WhatIfDto,
  ): Promise<WhatIfAnswerDto> {
    const { entity, snapshot } = await this.read(slug);
    const sent = edits.map((edit) => ({ edit: editFrom(edit), isOut: false }));
    const tried = editsOf({ entries: await this.takeBacks.workedOut(entity, sent, []) });
    return this.whatIfs.answer(entity, snapshot, tried, suggestedFixes === true);
  }

  private async read(slug: string): Promise<{ entity: WorkspaceEntity; snapshot: Snapshot }> {
    const entity = await this.workspaces.lookedAt(slug);
    return { entity, snapshot: await this.snapshots.read(entity) };
  }
}
