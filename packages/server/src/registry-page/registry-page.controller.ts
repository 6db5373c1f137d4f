import { Controller, Get, Param, Query } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import {
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
