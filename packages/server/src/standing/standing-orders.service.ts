import { randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { In, IsNull, Not, type Repository } from 'typeorm';
import { nextDue, type StandingOrder } from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { JobsService } from '../jobs/jobs.service.js';
import { Problem } from '../problems/problem.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { StandingOrderEntity, StandingRunEntity } from './standing.entity.js';

/** Runs of one order that are told. */
const MOST_TOLD = 10;

/** Which standing orders there are, when they are due, and when they ran. */
@Injectable()
export class StandingOrders {
  constructor(
    @InjectRepository(StandingOrderEntity)
    private readonly orders: Repository<StandingOrderEntity>,
    @InjectRepository(StandingRunEntity) private readonly runs: Repository<StandingRunEntity>,
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
    private readonly jobs: JobsService,
    private readonly clock: Clock,
  ) {}

  /** Notes the orders that a repository has now. One that is new is due for the first time after this moment. */
  async know(
    { id: workspaceId }: WorkspaceEntity,
    standing: readonly StandingOrder[],
  ): Promise<void> {
    const names = standing.map(({ name }) => name);
    await this.orders.delete({ workspaceId, ...(names.length > 0 && { name: Not(In(names)) }) });
    if (names.length === 0) return;
    const knownSince = this.clock.now();
    await this.orders
      .createQueryBuilder()
      .insert()
      .values(standing.map(({ name, every }) => ({ workspaceId, name, every, knownSince })))
      .orUpdate(['every'], ['workspace_id', 'name'])
      .execute();
  }

  /** When an order is due next; null: it is not known yet. */
  async dueNext({ id: workspaceId }: WorkspaceEntity, name: string): Promise<Date | null> {
    const order = await this.orders.findOneBy({ workspaceId, name });
    return order === null ? null : nextDue(order.every, await this.since(order));
  }

  /** The last runs of an order, newest first. */
  runsOf({ id: workspaceId }: WorkspaceEntity, name: string): Promise<StandingRunEntity[]> {
    return this.runs.find({
      where: { workspaceId, name },
      order: { beganAt: 'DESC' },
      take: MOST_TOLD,
    });
  }

  /** @throws Problem ORDER_RUNNING */
  async runNow(
    workspace: WorkspaceEntity,
    { name }: StandingOrder,
    by: string,
  ): Promise<StandingRunEntity> {
    if (await this.runs.existsBy({ workspaceId: workspace.id, name, state: 'running' }))
      throw new Problem(
        'ORDER_RUNNING',
        409,
        'It is running',
        `The standing order ${name} is running already. See what comes of it first.`,
      );
    const run = await this.runs.save(this.newRun(workspace.id, name, { due: null, by }));
    await this.jobs.begin(workspace, 'standing', run.id);
    return run;
  }

  /**
   * Begins what is due. Whichever processes do this at the same moment, an order runs once; one that was due several times
   * while nobody worked runs once as well.
   */
  async beginDue(): Promise<void> {
    const now = this.clock.now();
    for (const order of await this.orders.find()) {
      const { workspaceId, name } = order;
      const due = nextDue(order.every, await this.since(order));
      if (due === null || due > now) continue;
      await this.runs
        .createQueryBuilder()
        .insert()
        .values(this.newRun(workspaceId, name, { due, by: null }))
        .orIgnore()
        .execute();
    }
    await this.beginWaiting();
  }

  /** Runs whose job is not begun, as whoever noted them went away, and runs whose job failed or was stopped. */
  private async beginWaiting(): Promise<void> {
    for (const run of await this.runs.findBy({ state: 'running' })) {
      const workspace = await this.workspaces.findOneBy({
        id: run.workspaceId,
        closedAt: IsNull(),
      });
      const job = workspace === null ? null : await this.jobs.latest(workspace, 'standing', run.id);
      if (workspace === null || job?.state === 'stopped' || job?.state === 'failed')
        await this.end(run, 'failed', { says: job?.trouble ?? 'It was stopped.' });
      else await this.jobs.begin(workspace, 'standing', run.id);
    }
  }

  run(id: string): Promise<StandingRunEntity | null> {
    return this.runs.findOneBy({ id });
  }

  async end(
    { id }: StandingRunEntity,
    state: StandingRunEntity['state'],
    outcome: Partial<Pick<StandingRunEntity, 'taken' | 'leftOut' | 'draftId' | 'commit' | 'says'>>,
  ): Promise<void> {
    await this.runs.update({ id }, { ...outcome, state, endedAt: this.clock.now() });
  }

  /** What an order put on its branch last; null: nothing. */
  async lastCommit({ id: workspaceId }: WorkspaceEntity, name: string): Promise<string | null> {
    const run = await this.runs.findOne({
      where: { workspaceId, name, state: 'branch' },
      order: { beganAt: 'DESC' },
    });
    return run?.commit ?? null;
  }

  private async since({ workspaceId, name, knownSince }: StandingOrderEntity): Promise<Date> {
    const last = await this.runs.findOne({
      where: { workspaceId, name, due: Not(IsNull()) },
      order: { beganAt: 'DESC' },
    });
    return last !== null && last.beganAt > knownSince ? last.beganAt : knownSince;
  }

  private newRun(
    workspaceId: string,
    name: string,
    why: Pick<StandingRunEntity, 'due' | 'by'>,
  ): StandingRunEntity {
    return this.runs.create({
      id: randomUUID(),
      workspaceId,
      name,
      ...why,
      state: 'running',
      taken: 0,
      leftOut: 0,
      draftId: null,
      commit: null,
      says: null,
      beganAt: this.clock.now(),
      endedAt: null,
    });
  }
}
