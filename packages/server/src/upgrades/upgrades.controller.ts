import { Body, Controller, Get, HttpCode, Param, Post, Query, Res } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { upgradeRows } from '@deep-ledger/core';
import { AnswersService } from '../answers/answers.service.js';
import { KeptAnswers } from '../kept-answers.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
  UpgradeBatchDto,
  BatchQuery,
  TryUpgradesDto,
  UpgradesDto,
  UpgradesQuery,
  UpgradeTrialDto,
} from './upgrades.dto.js';
import { toBatch, toRow } from './upgrades.mapper.js';

@ApiTags('upgrades')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/upgrades')
export class UpgradesController {
  private readonly kept = new KeptAnswers();

  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly answers: AnswersService,
  ) {}

  @Get()
  @ApiOperation({
    operationId: 'readUpgrades',
    summary: 'What is newer than what is in use, and the newest of each step that can be tried',
  })
  @ApiOkResponse({ type: UpgradesDto })
  async upgrades(
    @Param('slug') slug: string,
    @Query() { olderThan }: UpgradesQuery,
    @Res() response: Response,
  ): Promise<void> {
    const { base, head } = (await this.read(slug)).snapshot;
    const make = (): UpgradesDto => ({
      commit: head.commit,
      today: base.today,
      rows: upgradeRows(base, olderThan).map(toRow),
    });
    await this.kept.send(response, base, `${head.commit} ${olderThan}`, make);
  }

  @Post('trials')
  @HttpCode(200)
  @ApiOperation({
    operationId: 'tryUpgrades',
    summary: 'What becomes of upgrades, each tried by itself on the whole workspace',
  })
  @ApiOkResponse({ type: [UpgradeTrialDto] })
  async trials(
    @Param('slug') slug: string,
    @Body() { upgrades }: TryUpgradesDto,
  ): Promise<UpgradeTrialDto[]> {
    const { entity, snapshot } = await this.read(slug);
    const tried = await this.answers.ask<'upgrade-trials'>(entity, snapshot, {
      kind: 'upgrade-trials',
      upgrades: upgrades.map(({ moves }) => moves),
    });
    return tried.map(({ against, price }) => ({ against: [...against], price }));
  }

  @Get('batch')
  @ApiOperation({
    operationId: 'readUpgradeBatch',
    summary: 'The most that can be taken together, and what stands against the rest',
  })
  @ApiOkResponse({ type: UpgradeBatchDto })
  async batch(
    @Param('slug') slug: string,
    @Query() { take, olderThan, all, project, owner, as, sets }: BatchQuery,
  ): Promise<UpgradeBatchDto> {
    const { entity, snapshot } = await this.read(slug);
    const batch = await this.answers.ask<'upgrade-batch'>(entity, snapshot, {
      kind: 'upgrade-batch',
      take,
      olderThanDays: olderThan,
      filter: {
        isAll: all,
        isSet: sets,
        ...(project !== undefined && { project }),
        ...(owner !== undefined && { owner }),
        ...(as !== undefined && { as }),
      },
    });
    return toBatch(snapshot.head.commit, batch);
  }

  private async read(slug: string): Promise<{ entity: WorkspaceEntity; snapshot: Snapshot }> {
    const entity = await this.workspaces.bySlug(slug);
    return { entity, snapshot: await this.snapshots.read(entity) };
  }
}
