import { Controller, Get, Param, Query } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { registryNews } from '@deep-ledger/core';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
  RegistryNewsDto,
  RegistryPackageDto,
  ReleaseNotesDto,
  SearchDto,
  SearchQuery,
} from './registry-page.dto.js';
import { RegistryPageService } from './registry-page.service.js';

@ApiTags('registry')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/registry')
export class RegistryPageController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly page: RegistryPageService,
  ) {}

  @Get()
  @ApiOperation({
    operationId: 'searchRegistries',
    summary: 'Packages by words, in all registries of the workspace',
  })
  @ApiOkResponse({ type: SearchDto })
  async search(@Param('slug') slug: string, @Query() { query }: SearchQuery): Promise<SearchDto> {
    const { entity, snapshot } = await this.read(slug);
    return this.page.search(entity, snapshot, query);
  }

  @Get('news')
  @ApiOperation({
    operationId: 'readRegistryNews',
    summary: 'What registries have done lately with what is in use',
  })
  @ApiOkResponse({ type: RegistryNewsDto })
  async news(@Param('slug') slug: string): Promise<RegistryNewsDto> {
    const { base, head } = (await this.read(slug)).snapshot;
    const { published, left } = registryNews(base, 1);
    return {
      commit: head.commit,
      published: [...published],
      left: left.map((one) => ({ ...one, projects: [...one.projects], copies: [...one.copies] })),
    };
  }

  @Get('packages/:name')
  @ApiOperation({
    operationId: 'readRegistryPackage',
    summary: 'A package as its registry has it, and who requires it',
  })
  @ApiOkResponse({ type: RegistryPackageDto })
  async package(
    @Param('slug') slug: string,
    @Param('name') name: string,
  ): Promise<RegistryPackageDto> {
    const { entity, snapshot } = await this.read(slug);
    return this.page.package(entity, snapshot, name);
  }

  @Get('packages/:name/notes/:version')
  @ApiOperation({
    operationId: 'readReleaseNotes',
    summary: 'What a release says of itself, in Markdown',
  })
  @ApiOkResponse({ type: ReleaseNotesDto })
  async notes(
    @Param('slug') slug: string,
    @Param('name') name: string,
    @Param('version') version: string,
  ): Promise<ReleaseNotesDto> {
    const { entity, snapshot } = await this.read(slug);
    return this.page.notes(entity, snapshot, name, version);
  }

  private async read(slug: string): Promise<{ entity: WorkspaceEntity; snapshot: Snapshot }> {
    const entity = await this.workspaces.bySlug(slug);
    return { entity, snapshot: await this.snapshots.read(entity) };
  }
}
