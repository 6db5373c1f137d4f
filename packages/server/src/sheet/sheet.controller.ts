import { Controller, Get, Param, Res } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { KeptAnswers } from '../kept-answers.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { BenchDto, SheetDto } from './sheet.dto.js';
import { SheetService } from './sheet.service.js';

@ApiTags('sheet')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class SheetController {
  private readonly answers = new KeptAnswers();

  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly sheets: SheetService,
  ) {}

  @Get('sheet')
  @ApiOperation({
    operationId: 'readSheet',
    summary: 'Every package that a project requires or that has a copy',
  })
  @ApiOkResponse({ type: SheetDto })
  async sheet(@Param('slug') slug: string, @Res() response: Response): Promise<void> {
    const snapshot = await this.snapshots.read(await this.workspaces.lookedAt(slug));
    this.answers.send(response, snapshot.base, 'sheet', () => this.sheets.sheet(snapshot));
  }

  @Get('packages/:name')
  @ApiOperation({
    operationId: 'readBench',
    summary: 'One package: all that projects and copies ask of it',
  })
  @ApiOkResponse({ type: BenchDto })
  async bench(@Param('slug') slug: string, @Param('name') name: string): Promise<BenchDto> {
    return this.sheets.bench(await this.snapshots.read(await this.workspaces.lookedAt(slug)), name);
  }
}
