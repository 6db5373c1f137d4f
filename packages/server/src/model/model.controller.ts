import { Controller, Get, Header, Param, StreamableFile } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { ApiProblems } from '../problems/api-problems.js';
import { RegistryService } from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { ModelDto } from './model.dto.js';

@ApiTags('model')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class ModelController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly registries: RegistryService,
  ) {}

  @Get('model')
  @ApiOperation({
    operationId: 'readModel',
    summary:
      "The workspace's files at the head and the registry's documents, for working in the page",
  })
  @ApiOkResponse({ type: ModelDto })
  @Header('content-type', 'application/json; charset=utf-8')
  async model(@Param('slug') slug: string): Promise<StreamableFile> {
    const entity = await this.workspaces.bySlug(slug);
    const { head, base } = await this.snapshots.read(entity);
    const names = [...base.records.keys()];
    const documents = await this.registries.documentTexts(sourcesOf(entity, base.workspace), names);
    const rest = {
      commit: head.commit,
      today: base.today,
      files: [...base.files].map(([path, text]) => ({ path, text })),
      missing: names.filter((name) => base.records.get(name) === null),
    };
    // The documents are sent as they are kept, without making objects of them.
    const text = `${JSON.stringify(rest).slice(0, -1)},"packages":[${documents.join(',')}]}`;
    return new StreamableFile(Buffer.from(text));
  }
}
