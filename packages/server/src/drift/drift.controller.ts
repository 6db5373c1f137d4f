import { Controller, Get, Param, Query } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { DriftLine } from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { toJob } from '../jobs/jobs.mapper.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import type { DriftPointEntity } from './drift-point.entity.js';
import {
  DriftDto,
  DriftOverTimeDto,
  DriftQuery,
  type DriftLineDto,
  type DriftPointDto,
} from './drift.dto.js';
import { DriftService } from './drift.service.js';

@ApiTags('drift')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/drift')
export class DriftController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly drifts: DriftService,
    private readonly clock: Clock,
  ) {}

  @Get()
  @ApiOperation({
    operationId: 'readDrift',
    summary: 'What a resolution without the lockfile on a day would change',
  })
  @ApiOkResponse({ type: DriftDto })
  async read(@Param('slug') slug: string, @Query() query: DriftQuery): Promise<DriftDto> {
    const snapshot = await this.snapshots.read(await this.workspaces.bySlug(slug));
    const day = query.day ?? this.clock.today();
    const from = query.from ?? null;
    const { same, lines, explanation } = await this.drifts.of(snapshot, day, from);
    return {
      commit: snapshot.head.commit,
      day,
      from,
      same,
      lines: (lines ?? []).map(toLine),
      explanation: [...explanation],
    };
  }

  @Get('over-time')
  @ApiOperation({
    operationId: 'readDriftOverTime',
    summary: 'How many copies would have differed, week by week, as the branch stood then',
  })
  @ApiOkResponse({ type: DriftOverTimeDto })
  async overTime(@Param('slug') slug: string): Promise<DriftOverTimeDto> {
    const entity = await this.workspaces.bySlug(slug);
    const { head } = await this.snapshots.read(entity);
    const { points, total, job } = await this.drifts.overTime(entity, head.commit);
    return { points: points.map(toPoint), total, job: job === null ? null : toJob(job) };
  }
}

const MOST_DEMANDS = 12;

function toLine({ demands, ...line }: DriftLine): DriftLineDto {
  return {
    ...line,
    demands: demands.slice(0, MOST_DEMANDS).map(({ owner, range }) => ({
      owner,
      isProject: !owner.includes(' '),
      range,
    })),
    more: Math.max(0, demands.length - MOST_DEMANDS),
  };
}

function toPoint({ day, commit, entered, left, moved }: DriftPointEntity): DriftPointDto {
  const isAnswered = entered !== null && left !== null && moved !== null;
  return { day, commit, copies: isAnswered ? entered + left + moved : null };
}
