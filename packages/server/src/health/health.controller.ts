import { Controller, Get, Res } from '@nestjs/common';
import {
  ApiOkResponse,
  ApiOperation,
  ApiServiceUnavailableResponse,
  ApiTags,
} from '@nestjs/swagger';
import { InjectDataSource } from '@nestjs/typeorm';
import type { Response } from 'express';
import { shownAddress } from '@deep-ledger/registry-client';
import { DataSource } from 'typeorm';
import { GitService } from '../git/git.service.js';
import { RegistryService } from '../registry/registry.service.js';
import { Needs } from '../team/capability.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { HealthDto, type PartHealthDto } from './health.dto.js';

@ApiTags('health')
@Needs('anyone')
@Controller('health')
export class HealthController {
  constructor(
    @InjectDataSource() private readonly database: DataSource,
    private readonly git: GitService,
    private readonly registries: RegistryService,
    private readonly workspaces: WorkspaceService,
  ) {}

  @Get()
  @ApiOperation({
    operationId: 'readHealth',
    summary: 'Whether database, git and registries answer',
  })
  @ApiOkResponse({ type: HealthDto })
  @ApiServiceUnavailableResponse({ type: HealthDto })
  async read(@Res({ passthrough: true }) response: Response): Promise<HealthDto> {
    let urls: readonly string[] = [];
    const database = await ask(async () => {
      const [row] = await this.database.query<{ version: string }[]>(
        "SELECT current_setting('server_version') AS version",
      );
      urls = (await this.workspaces.list()).map(({ registryUrl }) => registryUrl);
      return `PostgreSQL ${row?.version ?? ''}`;
    });
    const git = await ask(async () => `git ${await this.git.version()}`);
    const registries = await Promise.all(
      [...new Set(urls)].map(async (url) => ({
        url: shownAddress(url),
        ...(await ask(async () => {
          await this.registries.probe(url);
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
