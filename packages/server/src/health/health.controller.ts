import { Controller, Get, Res } from '@nestjs/common';
import {
  ApiOkResponse,
  ApiOperation,
  ApiServiceUnavailableResponse,
  ApiTags,
} from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Response } from 'express';
import { DataSource } from 'typeorm';
import { GitService } from '../git/git.service.js';
import { RegistryService } from '../registry/registry.service.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import type { KnownRegistry } from '../workspaces/workspace.entity.js';
import { HealthDto, PartsHealthDto, type PartHealthDto } from './health.dto.js';

@ApiTags('health')
@Controller('health')
export class HealthController {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly git: GitService,
    private readonly registries: RegistryService,
    private readonly workspaces: WorkspaceService,
  ) {}

  @Get()
  @Needs('anyone')
  @ApiOperation({
    operationId: 'readHealth',
    summary: 'Whether the server answers; it asks nobody for that',
  })
  @ApiOkResponse({ type: HealthDto })
  read(): HealthDto {
    return { state: 'up' };
  }

  @Get('parts')
  @Needs('keep')
  @ApiOperation({
    operationId: 'readPartsHealth',
    summary: 'Whether database, git and registries answer',
  })
  @ApiOkResponse({ type: PartsHealthDto })
  @ApiServiceUnavailableResponse({ type: PartsHealthDto })
  async parts(@Res({ passthrough: true }) response: Response): Promise<PartsHealthDto> {
    let sources: readonly KnownRegistry[] = [];
    const database = await ask(async () => {
      const [row] = await this.database.query<{ version: string }[]>(
        "SELECT current_setting('server_version') AS version",
      );
      const open = await this.workspaces.list();
      sources = open.flatMap(({ registries }) => Object.values(registries));
      return `PostgreSQL ${row?.version ?? ''}`;
    });
    const git = await ask(async () => `git ${await this.git.version()}`);
    const byUrl = new Map(sources.map((source) => [source.url, source]));
    const registries = await Promise.all(
      [...byUrl].map(async ([url, source]) => ({
        url,
        ...(await ask(async () => {
          // Whether it answers depends on no version.
          await this.registries.probe({ ...source, versions: 'semver' });
          return 'answers';
        })),
      })),
    );
    const isUp = database.state === 'up' && git.state === 'up';
    if (!isUp) response.status(503);
    const state = !isUp
      ? 'down'
      : registries.every((one) => one.state === 'up')
        ? 'up'
        : 'impaired';
    return { state, database, git, registries };
  }
}

async function ask(question: () => Promise<string>): Promise<PartHealthDto> {
  try {
    return { state: 'up', detail: await question() };
  } catch (error) {
    return { state: 'down', detail: error instanceof Error ? error.message : String(error) };
  }
}
