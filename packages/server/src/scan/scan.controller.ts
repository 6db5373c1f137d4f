import { Controller, Get, Param } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { ApiProblems } from '../problems/api-problems.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { ScanDto } from './scan.dto.js';
import { ScanService } from './scan.service.js';

@ApiTags('findings')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class ScanController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly scans: ScanService,
  ) {}

  @Get('scan')
  @ApiOperation({
    operationId: 'readScan',
    summary: 'What the scan of source read in each project, and what it could not read',
  })
  @ApiOkResponse({ type: ScanDto })
  async scan(@Param('slug') slug: string): Promise<ScanDto> {
    const entity = await this.workspaces.bySlug(slug);
    const { head, base } = await this.snapshots.read(entity);
    const { workspace } = base;
    const use = workspace === null ? null : await this.scans.use(entity, head.commit, workspace);
    return {
      commit: head.commit,
      projects: [...(use ?? [])].map(([folder, { files, references, unseen }]) => ({
        folder,
        files,
        packages: references.size,
        unseen: [...unseen],
      })),
    };
  }
}
