import { Controller, Get, Param, ParseUUIDPipe, Query } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiQuery, ApiTags } from '@nestjs/swagger';
import { DraftService } from '../drafts/draft.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { BenchDto, SheetDto } from './sheet.dto.js';
import { SheetService } from './sheet.service.js';

@ApiTags('sheet')
@ApiProblems()
@Controller('workspaces/:slug')
export class SheetController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly drafts: DraftService,
    private readonly sheets: SheetService,
  ) {}

  @Get('sheet')
  @ApiOperation({
    operationId: 'readSheet',
    summary: 'Every package that two or more projects require',
  })
  @ApiOkResponse({ type: SheetDto })
  async sheet(@Param('slug') slug: string): Promise<SheetDto> {
    return this.sheets.sheet(await this.snapshots.read(await this.workspaces.bySlug(slug)));
  }

  @Get('packages/:name')
  @ApiOperation({
    operationId: 'readBench',
    summary: 'One package: its requirements, and what each version would cost',
  })
  @ApiQuery({
    name: 'draft',
    required: false,
    type: String,
    description: 'Cost the versions on top of this draft',
  })
  @ApiOkResponse({ type: BenchDto })
  async bench(
    @Param('slug') slug: string,
    @Param('name') name: string,
    @Query('draft', new ParseUUIDPipe({ optional: true })) draft?: string,
  ): Promise<BenchDto> {
    const entity = await this.workspaces.bySlug(slug);
    const edits = draft === undefined ? [] : (await this.drafts.byId(entity, draft)).edits;
    return this.sheets.bench(await this.snapshots.read(entity), name, edits);
  }
}
