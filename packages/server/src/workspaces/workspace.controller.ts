import { Body, Controller, Delete, Get, HttpCode, Param, Post, Put } from '@nestjs/common';
import {
  ApiCreatedResponse,
  ApiNoContentResponse,
  ApiOkResponse,
  ApiOperation,
  ApiTags,
} from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Workspace } from '@deep-ledger/core';
import type { DataSource } from 'typeorm';
import { Clock } from '../clock.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from './snapshot.service.js';
import {
  OpenWorkspaceDto,
  RegistryLineDto,
  SetRegistryDto,
  TriedRegistryDto,
  WorkspaceSettingsDto,
  WorkspaceStateDto,
  WorkspaceSummaryDto,
} from './workspace.dto.js';
import { workspaceCounts } from './workspace-counts.js';
import type { WorkspaceEntity } from './workspace.entity.js';
import { toRegistryLines, toState, toSummary } from './workspace.mapper.js';
import { WorkspaceService } from './workspace.service.js';

@ApiTags('workspaces')
@ApiProblems()
@Needs('read')
@Controller('workspaces')
export class WorkspaceController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    @InjectDataSource() private readonly database: DataSource,
    private readonly clock: Clock,
  ) {}

  @Get()
  @Needs('self')
  @ApiOperation({ operationId: 'listWorkspaces', summary: 'All workspaces that are open' })
  @ApiOkResponse({ type: [WorkspaceSummaryDto] })
  async list(): Promise<WorkspaceSummaryDto[]> {
    return (await this.workspaces.list()).map(toSummary);
  }

  @Post()
  @Needs('keep')
  @ApiOperation({ operationId: 'openWorkspace', summary: 'Open a branch of a repository' })
  @ApiCreatedResponse({ type: WorkspaceSummaryDto })
  async open(@Body() body: OpenWorkspaceDto): Promise<WorkspaceSummaryDto> {
    return toSummary(await this.workspaces.open(body));
  }

  @Get(':slug')
  @ApiOperation({
    operationId: 'readWorkspace',
    summary: 'How a workspace stands at the head of its branch',
  })
  @ApiOkResponse({ type: WorkspaceStateDto })
  async read(@Param('slug') slug: string): Promise<WorkspaceStateDto> {
    return this.state(await this.workspaces.lookedAt(slug), 'kept');
  }

  @Post(':slug/refresh')
  @HttpCode(200)
  @ApiOperation({ operationId: 'refreshWorkspace', summary: 'Ask repository and registry now' })
  @ApiOkResponse({ type: WorkspaceStateDto })
  async refresh(@Param('slug') slug: string): Promise<WorkspaceStateDto> {
    return this.state(await this.workspaces.bySlug(slug), 'now');
  }

  @Put(':slug/settings')
  @Needs('keep')
  @ApiOperation({ operationId: 'setSettings', summary: 'How the team works on a workspace' })
  @ApiOkResponse({ type: WorkspaceStateDto })
  async setSettings(
    @Param('slug') slug: string,
    @Body() { needsApproval }: WorkspaceSettingsDto,
  ): Promise<WorkspaceStateDto> {
    const entity = await this.workspaces.bySlug(slug);
    return this.state(await this.workspaces.change(entity, { needsApproval }), 'kept');
  }

  @Get(':slug/registries')
  @ApiOperation({
    operationId: 'listRegistries',
    summary: 'The registries of a workspace, which names belong to each, and where each is',
  })
  @ApiOkResponse({ type: [RegistryLineDto] })
  async registries(@Param('slug') slug: string): Promise<RegistryLineDto[]> {
    const entity = await this.workspaces.lookedAt(slug);
    return toRegistryLines(entity, await this.snapshots.read(entity));
  }

  @Put(':slug/registries/:name')
  @Needs('keep')
  @ApiOperation({
    operationId: 'setRegistry',
    summary: 'Say where a registry is and how one is let in, once it has answered',
  })
  @ApiOkResponse({ type: [RegistryLineDto] })
  async setRegistry(
    @Param('slug') slug: string,
    @Param('name') name: string,
    @Body() body: SetRegistryDto,
  ): Promise<RegistryLineDto[]> {
    const entity = await this.workspaces.bySlug(slug);
    const workspace = await this.workspaceOf(entity);
    const changed = await this.workspaces.setRegistry(entity, workspace, name, body);
    return toRegistryLines(changed, await this.snapshots.read(changed, 'now'));
  }

  @Post(':slug/registries/:name/try')
  @HttpCode(200)
  @Needs('keep')
  @ApiOperation({
    operationId: 'tryRegistry',
    summary: 'Ask a registry at an address, with credentials, and change nothing',
  })
  @ApiOkResponse({ type: TriedRegistryDto })
  async tryRegistry(
    @Param('slug') slug: string,
    @Param('name') name: string,
    @Body() body: SetRegistryDto,
  ): Promise<TriedRegistryDto> {
    const entity = await this.workspaces.bySlug(slug);
    const workspace = await this.workspaceOf(entity);
    const record = await this.workspaces.tryRegistry(entity, workspace, name, body);
    if (body.package === undefined) return { package: null };
    return {
      package: {
        name: body.package,
        releases: record?.releases.length ?? null,
        newest: record?.releases.at(-1)?.text ?? null,
      },
    };
  }

  @Delete(':slug')
  @HttpCode(204)
  @Needs('keep')
  @ApiOperation({
    operationId: 'closeWorkspace',
    summary: 'Close a workspace; opening it again brings its drafts and posts back',
  })
  @ApiNoContentResponse()
  async close(@Param('slug') slug: string): Promise<void> {
    await this.workspaces.close(await this.workspaces.bySlug(slug));
  }

  private async workspaceOf(entity: WorkspaceEntity): Promise<Workspace> {
    const { base, problems } = await this.snapshots.read(entity);
    if (base.workspace !== null) return base.workspace;
    throw new Problem(
      'NO_WORKSPACE',
      422,
      'The workspace cannot be read',
      'ledger.toml has to be readable before its registries can be set.',
      problems,
    );
  }

  private async state(
    entity: WorkspaceEntity,
    freshness: 'kept' | 'now',
  ): Promise<WorkspaceStateDto> {
    const snapshot = await this.snapshots.read(entity, freshness);
    const now = this.clock.now();
    const counts = await workspaceCounts(this.database, entity.id, snapshot.lockSum, now);
    return toState(entity, snapshot, counts);
  }
}
