import { Controller, Get, Param, Query, Res } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { KeptAnswers } from '../kept-answers.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { AlignmentDto, AlignmentQuery, NamesDto, PackagePanelDto } from './alignment.dto.js';
import { AlignmentService } from './alignment.service.js';

@ApiTags('alignment')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class AlignmentController {
  private readonly answers = new KeptAnswers();

  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly alignment: AlignmentService,
  ) {}

  @Get('alignment')
  @ApiOperation({
    operationId: 'readAlignment',
    summary: 'Every package that a project requires or that has a copy, or those of a scope',
  })
  @ApiOkResponse({ type: AlignmentDto })
  async rows(
    @Param('slug') slug: string,
    @Query() query: AlignmentQuery,
    @Res() response: Response,
  ): Promise<void> {
    const snapshot = await this.snapshots.read(await this.workspaces.lookedAt(slug));
    const key = `alignment ${query.scope} ${query.cells}`;
    await this.answers.send(response, snapshot.base, key, () =>
      this.alignment.rows(snapshot, query),
    );
  }

  @Get('names')
  @ApiOperation({
    operationId: 'readNames',
    summary: 'Packages and projects by name, with a word on how each stands',
  })
  @ApiOkResponse({ type: NamesDto })
  async names(@Param('slug') slug: string, @Res() response: Response): Promise<void> {
    const snapshot = await this.snapshots.read(await this.workspaces.lookedAt(slug));
    await this.answers.send(response, snapshot.base, 'names', () => this.alignment.names(snapshot));
  }

  @Get('packages/:name')
  @ApiOperation({
    operationId: 'readPackagePanel',
    summary: 'One package: all that projects and copies ask of it',
  })
  @ApiOkResponse({ type: PackagePanelDto })
  async packagePanel(
    @Param('slug') slug: string,
    @Param('name') name: string,
  ): Promise<PackagePanelDto> {
    return this.alignment.packagePanel(
      await this.snapshots.read(await this.workspaces.lookedAt(slug)),
      name,
    );
  }
}
