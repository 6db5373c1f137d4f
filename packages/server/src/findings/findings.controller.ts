import { Controller, Get, Header, Param, Query } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiProduces, ApiTags } from '@nestjs/swagger';
import { findingsAsSarif, type SarifLog, type Severity } from '@deep-ledger/core';
import { PRODUCT_VERSION } from '../product-version.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
  ClearingDto,
  ClearingQuery,
  FindingCountDto,
  FindingsDto,
  OverviewDto,
} from './findings.dto.js';
import { toClearing, toFigures, toFindings, toPoint, toRankedRemedy } from './findings.mapper.js';
import { FindingsService } from './findings.service.js';
import { FindingsHistory } from './history.service.js';

const FIRST_THINGS = 6;

@ApiTags('findings')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class FindingsController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly service: FindingsService,
    private readonly history: FindingsHistory,
  ) {}

  @Get('findings')
  @ApiOperation({
    operationId: 'readFindings',
    summary: 'What is wrong, what causes it, and what would clear it',
  })
  @ApiOkResponse({ type: FindingsDto })
  async findings(@Param('slug') slug: string): Promise<FindingsDto> {
    const { entity, snapshot } = await this.read(slug);
    const found = await this.service.of(entity, snapshot);
    const history = await this.history.state(entity, snapshot.head.commit);
    const remedies = await this.service.remedies(entity, snapshot);
    return toFindings(snapshot.head.commit, found, remedies, history);
  }

  @Get('findings/count')
  @ApiOperation({
    operationId: 'countFindings',
    summary: 'How many findings there are that are not muted',
  })
  @ApiOkResponse({ type: FindingCountDto })
  async count(@Param('slug') slug: string): Promise<FindingCountDto> {
    const { entity, snapshot } = await this.read(slug);
    const { findings, muted } = await this.service.of(entity, snapshot);
    const open = findings.filter(({ id }) => !muted.has(id));
    const of = (severity: Severity): number =>
      open.filter((one) => one.severity === severity).length;
    return { open: open.length, error: of('error'), warning: of('warning'), note: of('note') };
  }

  @Get('findings/sarif')
  @Header('Content-Type', 'application/sarif+json')
  @ApiOperation({ operationId: 'readSarif', summary: 'The findings as SARIF 2.1.0' })
  @ApiProduces('application/sarif+json')
  @ApiOkResponse({ schema: { type: 'object' } })
  async sarif(@Param('slug') slug: string): Promise<SarifLog> {
    const { entity, snapshot } = await this.read(slug);
    const { findings, muted } = await this.service.of(entity, snapshot);
    const { commit } = snapshot.head;
    return findingsAsSarif(findings, { version: PRODUCT_VERSION, commit, muted });
  }

  @Get('findings/clearing')
  @ApiOperation({
    operationId: 'clearEverything',
    summary: 'The edits that clear all that can be cleared, and why the rest stays',
  })
  @ApiOkResponse({ type: ClearingDto })
  async clearing(
    @Param('slug') slug: string,
    @Query() { ticked }: ClearingQuery,
  ): Promise<ClearingDto> {
    const { entity, snapshot } = await this.read(slug);
    return toClearing(snapshot.head.commit, await this.service.close(entity, snapshot, ticked));
  }

  @Get('overview')
  @ApiOperation({
    operationId: 'readOverview',
    summary: 'How the workspace stands, how it stood at each commit, and what to do first',
  })
  @ApiOkResponse({ type: OverviewDto })
  async overview(@Param('slug') slug: string): Promise<OverviewDto> {
    const { entity, snapshot } = await this.read(slug);
    const { figures, muted, findings } = await this.service.of(entity, snapshot);
    const remedies = await this.service.remedies(entity, snapshot);
    const { commit } = snapshot.head;
    const { points, total, trouble } = await this.history.state(entity, commit);
    return {
      commit,
      now: toFigures(figures),
      lock: snapshot.base.lock?.state ?? 'broken',
      muted: findings.filter(({ id }) => muted.has(id)).length,
      remedies: remedies
        .filter(({ isDecision }) => !isDecision)
        .slice(0, FIRST_THINGS)
        .map(toRankedRemedy),
      points: points.map(toPoint),
      total,
      trouble,
    };
  }

  private async read(slug: string): Promise<{ entity: WorkspaceEntity; snapshot: Snapshot }> {
    const entity = await this.workspaces.bySlug(slug);
    return { entity, snapshot: await this.snapshots.read(entity) };
  }
}
