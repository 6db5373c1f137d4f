import { Body, Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiNoContentResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { GitHistory } from '../git/git-history.js';
import { LockHistoryService } from '../lock/lock-history.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { NewReportDto, MachinesDto } from './machines.dto.js';
import { MachinesService } from './machines.service.js';

@ApiTags('machines')
@ApiProblems()
@Controller('workspaces/:slug')
export class MachinesController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly histories: LockHistoryService,
    private readonly machines: MachinesService,
    private readonly git: GitHistory,
  ) {}

  @Get('machines')
  @Needs('read')
  @ApiOperation({
    operationId: 'readMachines',
    summary: 'Which machines and build runs stand on which lockfile',
  })
  @ApiOkResponse({ type: MachinesDto })
  async read(@Param('slug') slug: string): Promise<MachinesDto> {
    const entity = await this.workspaces.lookedAt(slug);
    const { head, lockSum } = await this.snapshots.read(entity);
    const { commits, isDone } = await this.histories.of(entity, head.commit);
    return {
      commit: head.commit,
      sum: lockSum,
      isHistoryDone: isDone,
      lines: [
        ...(await this.machines.lines(entity, lockSum, commits)),
        ...(await this.machines.branches(entity, lockSum, commits)),
      ],
    };
  }

  @Post('reports')
  @HttpCode(204)
  @Needs('report')
  @ApiOperation({
    operationId: 'report',
    summary: 'Report the lockfile of a machine or a build run',
  })
  @ApiNoContentResponse()
  async report(
    @Param('slug') slug: string,
    @Body() body: NewReportDto,
    @CurrentActor() actor: Actor,
  ): Promise<void> {
    const entity = await this.workspaces.bySlug(slug);
    await this.machines.take(entity, body, actor);
    // Somebody has pushed since: whoever reads next is shown it, however young what is kept may be.
    if (body.commit != null && !(await this.git.has(entity.id, body.commit)))
      this.snapshots.expire(entity.id);
  }
}
