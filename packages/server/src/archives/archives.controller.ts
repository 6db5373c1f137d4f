import { Body, Controller, Get, HttpCode, Param, Post, Query, Res } from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { ApiProblems } from '../problems/api-problems.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { ArchivesDto, ArchivesQuery, ClearArchivesDto, ClearedDto } from './archives.dto.js';
import { ArchivesService } from './archives.service.js';

@ApiTags('archives')
@ApiProblems()
@Controller('workspaces/:slug/archives')
export class ArchivesController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly archives: ArchivesService,
  ) {}

  @Get()
  @Needs('read')
  @ApiOperation({
    operationId: 'readArchives',
    summary: 'Which archives the mirror keeps, and which of those that lockfiles name it lacks',
  })
  @ApiOkResponse({ type: ArchivesDto })
  async page(
    @Param('slug') slug: string,
    @Query() query: ArchivesQuery,
    @CurrentActor() actor: Actor,
  ): Promise<ArchivesDto> {
    const isPerson = actor.kind === 'account';
    return this.archives.page(await this.workspaces.bySlug(slug), query, isPerson);
  }

  @Get(':digest')
  @Needs('fetch')
  @ApiOperation({ operationId: 'fetchArchive', summary: 'An archive, hashed before it is sent' })
  @ApiOkResponse({ content: { 'application/gzip': {} } })
  async file(
    @Param('slug') slug: string,
    @Param('digest') digest: string,
    @Res() response: Response,
  ): Promise<void> {
    const file = await this.archives.file(await this.workspaces.bySlug(slug), digest);
    await new Promise<void>((resolve, reject) => {
      // Ranges are answered, so that what broke off can go on; caches on the way are told nothing new.
      const options = {
        headers: { 'content-type': 'application/gzip' },
        dotfiles: 'allow',
        cacheControl: false,
      } as const;
      response.sendFile(file, options, (error: Error | undefined) => {
        // Whoever asked may have gone away.
        if (error === undefined || response.headersSent) resolve();
        else reject(error);
      });
    });
  }

  @Post('check')
  @HttpCode(204)
  @Needs('draft')
  @ApiOperation({
    operationId: 'checkArchives',
    summary: 'Hash all archives again, and fetch what is missing',
  })
  @ApiNoContentResponse()
  async check(@Param('slug') slug: string): Promise<void> {
    await this.archives.checkAll(await this.workspaces.bySlug(slug));
  }

  @Post('clear')
  @HttpCode(200)
  @Needs('keep')
  @ApiOperation({
    operationId: 'clearArchives',
    summary: 'Throw away archives that no lockfile of any workspace names',
  })
  @ApiOkResponse({ type: ClearedDto })
  async clear(
    @Param('slug') slug: string,
    @Body() { unusedForDays }: ClearArchivesDto,
  ): Promise<ClearedDto> {
    await this.workspaces.bySlug(slug);
    return this.archives.clear(unusedForDays);
  }
}
