import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { LockHistoryService } from '../lock/lock-history.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { NewReportDto, RollCallDto } from './roll-call.dto.js';
import { RollCallService } from './roll-call.service.js';

@ApiTags('roll call')
@ApiProblems()
@Controller('workspaces/:slug')
export class RollCallController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly histories: LockHistoryService,
    private readonly rollCall: RollCallService,
  ) {}

  @Get('roll-call')
  @Needs('read')
  @ApiOperation({
    operationId: 'readRollCall',
    summary: 'Which machines and build runs stand on which lockfile',
  })
  @ApiOkResponse({ type: RollCallDto })
  async read(@Param('slug') slug: string): Promise<RollCallDto> {
    const entity = await this.workspaces.bySlug(slug);
    const { head, lockSum } = await this.snapshots.read(entity);
    const { commits, isDone } = await this.histories.of(entity, head.commit);
    return {
      commit: head.commit,
      sum: lockSum,
      isHistoryDone: isDone,
      lines: [
        ...(await this.rollCall.lines(entity, lockSum, commits)),
        ...(await this.rollCall.branches(entity, lockSum, commits)),
      ],
    };
  }

  @Post('reports')
  @HttpCode(204)
  @Needs('report')
  @ApiOperation({ operationId: 'report', summary: 'Answer the roll call' })
  @ApiNoContentResponse()
  async report(
    @Param('slug') slug: string,
    @Body() body: NewReportDto,
    @CurrentActor() actor: Actor,
  ): Promise<void> {
    await this.rollCall.take(await this.workspaces.bySlug(slug), body, actor);
  }
}
