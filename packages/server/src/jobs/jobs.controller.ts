import { Controller, Delete, Get, HttpCode, Param, ParseUUIDPipe, Post } from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { JobDto } from './jobs.dto.js';
import { toJob } from './jobs.mapper.js';
import { JobsService } from './jobs.service.js';

@ApiTags('jobs')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/jobs')
export class JobsController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly jobs: JobsService,
  ) {}

  @Get()
  @ApiOperation({ operationId: 'listJobs', summary: 'Long work that is under way or ended lately' })
  @ApiOkResponse({ type: [JobDto] })
  async list(@Param('slug') slug: string): Promise<JobDto[]> {
    return (await this.jobs.list(await this.workspaces.bySlug(slug))).map(toJob);
  }

  @Get(':job')
  @ApiOperation({
    operationId: 'getJob',
    summary: 'How far long work is, such as a question that was answered with 202',
  })
  @ApiOkResponse({ type: JobDto })
  async one(@Param('slug') slug: string, @Param('job', ParseUUIDPipe) id: string): Promise<JobDto> {
    return toJob(await this.jobs.one(await this.workspaces.bySlug(slug), id));
  }

  @Delete(':job')
  @HttpCode(204)
  @Needs('draft')
  @ApiOperation({ operationId: 'stopJob', summary: 'Stop long work' })
  @ApiNoContentResponse()
  async stop(@Param('slug') slug: string, @Param('job', ParseUUIDPipe) id: string): Promise<void> {
    await this.jobs.stop(await this.workspaces.bySlug(slug), id);
  }

  @Post(':job/again')
  @HttpCode(204)
  @Needs('draft')
  @ApiOperation({ operationId: 'beginJobAgain', summary: 'Begin again what failed or was stopped' })
  @ApiNoContentResponse()
  async again(@Param('slug') slug: string, @Param('job', ParseUUIDPipe) id: string): Promise<void> {
    await this.jobs.again(await this.workspaces.bySlug(slug), id);
  }
}
