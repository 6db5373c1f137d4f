import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
  BringInDto,
  BroughtInDto,
  PrepareDto,
  ReadAskedDto,
  TriedDocumentDto,
  TryDto,
} from './bring-in.dto.js';
import { toBringIn, toBroughtIn, toTriedDocument } from './bring-in.mapper.js';
import { BringInService } from './bring-in.service.js';

@ApiTags('bring in')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/bring-in')
export class BringInController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly service: BringInService,
  ) {}

  @Get()
  @ApiOperation({
    operationId: 'readBringIn',
    summary: 'What a repository without our files has that could be read, and how',
  })
  @ApiOkResponse({ type: BringInDto })
  async read(@Param('slug') slug: string): Promise<BringInDto> {
    const entity = await this.workspaces.lookedAt(slug);
    const { commit, looked, proposal } = await this.service.proposal(entity);
    return toBringIn(entity, commit, looked, proposal);
  }

  @Post('reading')
  @HttpCode(200)
  @ApiOperation({
    operationId: 'readByShapes',
    summary: 'What shapes read over all files of the repository; nothing is kept',
  })
  @ApiOkResponse({ type: BroughtInDto })
  async reading(@Param('slug') slug: string, @Body() body: ReadAskedDto): Promise<BroughtInDto> {
    const entity = await this.workspaces.lookedAt(slug);
    return toBroughtIn(await this.service.reading(entity, body));
  }

  @Post('try')
  @HttpCode(200)
  @Needs('keep')
  @ApiOperation({
    operationId: 'tryDocument',
    summary: 'Ask a registry for a package, and read it by a shape; nothing is kept',
  })
  @ApiOkResponse({ type: TriedDocumentDto })
  async tryDocument(@Param('slug') slug: string, @Body() body: TryDto): Promise<TriedDocumentDto> {
    const entity = await this.workspaces.bySlug(slug);
    return toTriedDocument(await this.service.tryRegistry(entity, body));
  }

  @Put()
  @Needs('keep')
  @ApiOperation({
    operationId: 'prepareBringIn',
    summary: 'Read the repository with these files until they are posted',
  })
  @ApiOkResponse({ type: BringInDto })
  async prepare(@Param('slug') slug: string, @Body() body: PrepareDto): Promise<BringInDto> {
    const entity = await this.workspaces.bySlug(slug);
    const changed = await this.service.prepare(entity, body);
    const { commit, looked, proposal } = await this.service.proposal(changed);
    return toBringIn(changed, commit, looked, proposal);
  }

  @Delete()
  @Needs('keep')
  @ApiOperation({
    operationId: 'forgetBringIn',
    summary: 'Read the repository without any files that it does not have',
  })
  @ApiOkResponse({ type: BringInDto })
  async forget(@Param('slug') slug: string): Promise<BringInDto> {
    const entity = await this.workspaces.bySlug(slug);
    const changed = await this.service.forget(entity);
    const { commit, looked, proposal } = await this.service.proposal(changed);
    return toBringIn(changed, commit, looked, proposal);
  }
}
