import { isDeepStrictEqual } from 'node:util';
import { Injectable } from '@nestjs/common';
import { draftMessage, type Batch, type Edit, type StandingOrder } from '@deep-ledger/core';
import { AnswersService } from '../answers/answers.service.js';
import { Clock } from '../clock.js';
import { DraftEvaluator } from '../drafts/draft-evaluator.js';
import { editsOf } from '../drafts/draft.entity.js';
import { DraftService } from '../drafts/draft.service.js';
import { orderAuthor } from '../drafts/order-author.js';
import { GitHistory } from '../git/git-history.js';
import { GitService } from '../git/git.service.js';
import { JobsService } from '../jobs/jobs.service.js';
import { DraftPosting } from '../journal/draft-posting.js';
import { Problem } from '../problems/problem.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { StandingRunEntity } from './standing.entity.js';
import { StandingOrders } from './standing-orders.service.js';

type Outcome = Parameters<StandingOrders['end']>;

/** Runs standing orders, in a worker process. */
@Injectable()
export class StandingWork {
  constructor(
    private readonly orders: StandingOrders,
    private readonly snapshots: SnapshotService,
    private readonly answers: AnswersService,
    private readonly evaluator: DraftEvaluator,
    private readonly drafts: DraftService,
    private readonly posting: DraftPosting,
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly clock: Clock,
    jobs: JobsService,
  ) {
    jobs.register('standing', (entity, id) => this.work(entity, id));
  }

  private async work(entity: WorkspaceEntity, id: string): Promise<void> {
    const run = await this.orders.run(id);
    if (run === null || run.state !== 'running') return;
    const [state, outcome] = await this.outcome(entity, run);
    await this.orders.end(run, state, outcome);
  }

  private async outcome(
    entity: WorkspaceEntity,
    { name }: StandingRunEntity,
  ): Promise<[Outcome[1], Outcome[2]]> {
    try {
      const snapshot = await this.snapshots.read(entity, 'now');
      const order = snapshot.base.workspace?.standing.find((one) => one.name === name);
      if (order === undefined)
        return ['failed', { says: 'The repository does not have it any more.' }];
      const batch = await this.answers.ask<'upgrade-batch'>(entity, snapshot, {
        kind: 'upgrade-batch',
        take: order.take,
        olderThanDays: order.olderThanDays,
        filter: { packages: order.packages, except: order.except },
      });
      const figures = { taken: batch.offers.length, leftOut: batch.left.length };
      if (batch.offers.length === 0) return ['nothing', { ...figures, says: nothingWords(batch) }];
      const edits = batch.offers.map(({ moves }) => ({ kind: 'upgrade' as const, moves }));
      const outcome =
        order.to === 'draft'
          ? await this.intoDraft(entity, snapshot, order, edits)
          : await this.ontoBranch(entity, snapshot, order, edits);
      return [order.to, { ...figures, ...outcome }];
    } catch (error) {
      // Any other error is a failure of the job, which is told as such.
      if (!(error instanceof Problem)) throw error;
      return ['failed', { says: error.detail }];
    }
  }

  /** The draft that it made before and nobody has taken up is brought up to date. */
  private async intoDraft(
    entity: WorkspaceEntity,
    snapshot: Snapshot,
    { name }: StandingOrder,
    edits: readonly Edit[],
  ): Promise<Outcome[2]> {
    const { head } = (await this.evaluator.evaluate(entity, snapshot, edits)).snapshot;
    const before = await this.drafts.untakenOf(entity, name);
    if (before === null) {
      const { id } = await this.drafts.createFor(entity, head.commit, name, edits);
      return { draftId: id };
    }
    if (isDeepStrictEqual(editsOf(before), edits))
      return { draftId: before.id, says: 'The draft stands as it was.' };
    await this.drafts.renewFor(before, name, edits);
    return { draftId: before.id, says: 'The draft was brought up to date.' };
  }

  /** Its branch is put on the head anew, unless somebody else has put something on it. */
  private async ontoBranch(
    entity: WorkspaceEntity,
    snapshot: Snapshot,
    { name }: StandingOrder,
    edits: readonly Edit[],
  ): Promise<Outcome[2]> {
    const author = orderAuthor(name);
    const message = draftMessage(snapshot.base.workspace, edits, `standing order ${name}`, false);
    const commit = await this.posting.commitOf(entity, snapshot, edits, {
      message,
      author,
      committer: author,
      at: this.clock.now(),
    });
    const branch = orderBranch(name);
    const base = (await this.history.head(entity.id, branch))?.commit ?? null;
    if (base !== null && base !== (await this.orders.lastCommit(entity, name)))
      throw new Problem(
        'BRANCH_MOVED',
        409,
        'The branch is taken up',
        `Somebody has put commits on ${branch}. It is left as it is; merge or delete it, and the order goes on.`,
      );
    await this.git.moveBranch(entity, branch, base, commit);
    return { commit, says: `It stands on the branch ${branch}.` };
  }
}

function nothingWords({ left }: Batch): string {
  return left.length === 0
    ? 'Nothing newer was there.'
    : 'Of what is newer nothing could be taken; Upgrades says why.';
}

export function orderBranch(name: string): string {
  return `standing/${name}`;
}
