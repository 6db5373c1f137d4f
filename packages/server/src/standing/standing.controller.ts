import { Controller, Get, HttpCode, Param, Post } from '@nestjs/common';
import { ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { nearestWord, type StandingOrder } from '@deep-ledger/core';
import { DraftService } from '../drafts/draft.service.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { StandingDto, StandingRunDto, type StandingOrderDto } from './standing.dto.js';
import type { StandingRunEntity } from './standing.entity.js';
import { StandingOrders } from './standing-orders.service.js';

@ApiTags('upgrades')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/standing')
export class StandingController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly standing: StandingOrders,
    private readonly drafts: DraftService,
  ) {}

  @Get()
  @ApiOperation({
    operationId: 'readStandingOrders',
    summary: 'Upgrades that are prepared again and again: when they are due, and what came of them',
  })
  @ApiOkResponse({ type: StandingDto })
  async read(@Param('slug') slug: string): Promise<StandingDto> {
    const { entity, commit, orders } = await this.ordersOf(slug);
    await this.standing.know(entity, orders);
    const open = new Set((await this.drafts.list(entity)).map(({ id }) => id));
    return {
      commit,
      orders: await Promise.all(orders.map((order) => this.toOrder(entity, order, open))),
    };
  }

  @Post(':name/runs')
  @HttpCode(200)
  @Needs('draft')
  @ApiOperation({ operationId: 'runStandingOrder', summary: 'Run a standing order now' })
  @ApiOkResponse({ type: StandingRunDto })
  async run(
    @Param('slug') slug: string,
    @Param('name') name: string,
    @CurrentActor() actor: Actor,
  ): Promise<StandingRunDto> {
    const { entity, orders } = await this.ordersOf(slug);
    const order = orders.find((one) => one.name === name);
    if (order === undefined)
      throw unknownOrder(
        name,
        orders.map((one) => one.name),
      );
    return toRun(await this.standing.runNow(entity, order, actor.name), new Set());
  }

  private async ordersOf(slug: string) {
    const entity = await this.workspaces.bySlug(slug);
    const { base, head } = await this.snapshots.read(entity);
    return { entity, commit: head.commit, orders: base.workspace?.standing ?? [] };
  }

  private async toOrder(
    entity: WorkspaceEntity,
    { span: _, packages, except, ...order }: StandingOrder,
    open: ReadonlySet<string>,
  ): Promise<StandingOrderDto> {
    const [next, runs] = await Promise.all([
      this.standing.dueNext(entity, order.name),
      this.standing.runsOf(entity, order.name),
    ]);
    return {
      ...order,
      packages: [...packages],
      except: [...except],
      next: next?.toISOString() ?? null,
      runs: runs.map((run) => toRun(run, open)),
    };
  }
}

function toRun(run: StandingRunEntity, open: ReadonlySet<string>): StandingRunDto {
  const { id, due, by, state, taken, leftOut, draftId, commit, says, beganAt, endedAt } = run;
  return {
    id,
    due: due?.toISOString() ?? null,
    by,
    state,
    taken,
    leftOut,
    draftId,
    isDraftOpen: draftId !== null && open.has(draftId),
    commit,
    says,
    beganAt: beganAt.toISOString(),
    endedAt: endedAt?.toISOString() ?? null,
  };
}

function unknownOrder(name: string, known: readonly string[]): Problem {
  const near = nearestWord(name, known);
  return new Problem(
    'ORDER_UNKNOWN',
    404,
    'No such standing order',
    `ledger.toml has no standing order ${name}.${near === null ? '' : ` Did you mean ${near}?`}`,
  );
}
