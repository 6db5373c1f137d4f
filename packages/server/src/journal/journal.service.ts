import { randomUUID } from 'node:crypto';
import { Inject, Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import type { Logger } from 'pino';
import { LessThan, MoreThan, type DataSource, type Repository } from 'typeorm';
import { describeEdit, draftMessage } from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { DraftEvaluator, type SettledEvaluation } from '../drafts/draft-evaluator.js';
import { DraftService } from '../drafts/draft.service.js';
import { Exclusive } from '../database/exclusive.js';
import { DraftEntity, editsOf } from '../drafts/draft.entity.js';
import { GitHistory } from '../git/git-history.js';
import { GitService, type Author } from '../git/git.service.js';
import { LOGGER } from '../logging/nest-logger.js';
import { Problem } from '../problems/problem.js';
import { ReviewService } from '../review/review.service.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { PostDraftDto } from './post.dto.js';
import { PostEntity } from './post.entity.js';

/** So long after a post was given up, it may still turn out to have reached its branch. */
const LATE_MS = 10 * 60_000;
const CUT_SHORT_MS = 5_000;

type Answered = Extract<SettledEvaluation, { kind: 'answered' }>;

/** Writes drafts into repositories, and keeps the list of what was written. */
@Injectable()
export class JournalService implements OnApplicationBootstrap {
  constructor(
    @InjectRepository(PostEntity) private readonly posts: Repository<PostEntity>,
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
    @InjectDataSource() private readonly database: DataSource,
    @Inject(LOGGER) private readonly log: Logger,
    private readonly drafts: DraftService,
    private readonly reviews: ReviewService,
    private readonly exclusive: Exclusive,
    private readonly evaluator: DraftEvaluator,
    private readonly snapshots: SnapshotService,
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly clock: Clock,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const open = await this.posts.findBy({ state: 'writing' });
    for (const workspaceId of new Set(open.map((post) => post.workspaceId)))
      await this.exclusive.run(lockOf(workspaceId), () => this.settleOpen(workspaceId));
  }

  /** Newest first. */
  async list(workspace: WorkspaceEntity): Promise<PostEntity[]> {
    await this.catchUp(workspace);
    return this.posts.find({
      where: { workspaceId: workspace.id, state: 'posted' },
      order: { postedAt: 'DESC' },
    });
  }

  /**
   * Writes a draft as one commit and moves the branch to it, if the branch still stands where the
   * person saw the draft evaluated. Either all of it happens or nothing.
   * @throws Problem BRANCH_MOVED, DRAFT_NOT_POSTABLE, NOTHING_TO_POST, POST_REFUSED
   */
  post(
    workspace: WorkspaceEntity,
    draft: DraftEntity,
    request: PostDraftDto,
    author: Author,
  ): Promise<PostEntity> {
    return this.alone(workspace, async () => {
      const snapshot = await this.snapshots.read(workspace, 'now');
      await this.findLate(workspace);
      // Another server may have posted or changed it while this one waited.
      const now = await this.drafts.byId(workspace, draft.id);
      return this.write(workspace, snapshot, now, request, author);
    });
  }

  private async write(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    draft: DraftEntity,
    request: PostDraftDto,
    author: Author,
  ): Promise<PostEntity> {
    await this.reviews.demand(workspace, draft);
    const head = snapshot.head.commit;
    if (head !== request.base) {
      throw new Problem(
        'BRANCH_MOVED',
        409,
        'The branch moved',
        `${workspace.branch} went from ${request.base.slice(0, 7)} to ${head.slice(0, 7)} ("${snapshot.head.subject}", ${snapshot.head.author}). Nothing was written. The draft is carried over to the new head; look at it again, then post.`,
      );
    }
    const evaluation = await this.postable(workspace, snapshot, draft);
    const at = this.clock.now();
    const message = `${request.message.trim()}\n`;
    const branch = request.branch ?? workspace.branch;
    const base = branch === workspace.branch ? head : null;
    const commit = await this.commit(workspace, head, evaluation, message, author, at);
    return this.land(workspace, base, {
      draftId: draft.id,
      branch,
      baseCommit: head,
      commit,
      message,
      authorName: author.name,
      authorEmail: author.email,
      edits: editsOf(draft).map((edit) => describeEdit(snapshot.base.workspace, edit)),
      figures: figuresOf(evaluation),
      lockSum: evaluation.consequences.sum,
      postedAt: at,
    });
  }

  /** Does something that ends in `land`, while no other server posts to the workspace. */
  alone<T>(workspace: WorkspaceEntity, work: () => Promise<T>): Promise<T> {
    return this.snapshots.inTurn(`post ${workspace.id}`, () =>
      this.exclusive.run(lockOf(workspace.id), async () => {
        await this.settleOpen(workspace.id);
        return work();
      }),
    );
  }

  /**
   * Moves a branch to a commit and puts that into the journal, so that a crash at any point leaves both or
   * neither. Only within `alone`.
   * @param base where the branch must still stand; null: there must be none yet
   * @throws Problem BRANCH_MOVED, BRANCH_EXISTS, POST_REFUSED
   */
  async land(
    workspace: WorkspaceEntity,
    base: string | null,
    values: Omit<PostEntity, 'id' | 'workspaceId' | 'state'>,
  ): Promise<PostEntity> {
    const post = await this.posts.save(
      this.posts.create({
        ...values,
        id: randomUUID(),
        workspaceId: workspace.id,
        state: 'writing',
      }),
    );
    const { branch, commit } = post;
    try {
      await this.git.moveBranch(workspace.id, workspace.address, branch, base, commit);
    } catch (error) {
      await this.settle(post);
      if (post.state !== 'posted') throw error;
      return post;
    }
    await this.finish(post);
    await this.snapshots.read(workspace, 'now');
    return post;
  }

  /**
   * A draft as a patch that `git am` takes, on top of the head where it was evaluated.
   * @throws Problem DRAFT_NOT_POSTABLE, NOTHING_TO_POST
   */
  async patch(workspace: WorkspaceEntity, draft: DraftEntity, author: Author): Promise<string> {
    const snapshot = await this.snapshots.read(workspace);
    const evaluation = await this.postable(workspace, snapshot, draft);
    const message = draftMessage(snapshot.base.workspace, editsOf(draft), draft.name);
    const head = snapshot.head.commit;
    const at = this.clock.now();
    const commit = await this.commit(workspace, head, evaluation, message, author, at);
    return this.history.patchOf(workspace.id, commit);
  }

  private async postable(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    draft: DraftEntity,
  ): Promise<Answered> {
    const { evaluation } = await this.evaluator.evaluate(workspace, snapshot, editsOf(draft));
    if (evaluation.kind !== 'answered') {
      throw new Problem(
        'DRAFT_NOT_POSTABLE',
        409,
        'The draft has no answer',
        'This draft does not lead to a lockfile. See in the draft what stands against it.',
      );
    }
    if (evaluation.changes.length === 0) {
      throw new Problem('NOTHING_TO_POST', 409, 'Nothing to post', 'This draft changes no file.');
    }
    return evaluation;
  }

  private commit(
    { id }: WorkspaceEntity,
    head: string,
    { changes }: Answered,
    message: string,
    author: Author,
    at: Date,
  ): Promise<string> {
    const files = changes.map(({ path, after }) => ({ path, text: after }));
    return this.git.writeCommit(id, head, files, message, author, at);
  }

  private async finish(post: PostEntity): Promise<void> {
    post.state = 'posted';
    await this.database.transaction(async (manager) => {
      await manager.update(PostEntity, { id: post.id }, { state: 'posted' });
      await manager.update(DraftEntity, { id: post.draftId }, { state: 'posted' });
    });
  }

  /** Finds out what became of posts that were cut short, before the journal is shown. */
  async catchUp(workspace: WorkspaceEntity): Promise<void> {
    await this.settleCutShort(workspace);
    await this.findLate(workspace);
  }

  /** Posts that have been under way for longer than any takes: whoever wrote them, or the database, went away. */
  private async settleCutShort(workspace: WorkspaceEntity): Promise<void> {
    const before = LessThan(new Date(this.clock.now().getTime() - CUT_SHORT_MS));
    const open = { workspaceId: workspace.id, state: 'writing' as const, postedAt: before };
    if (await this.posts.existsBy(open)) await this.alone(workspace, () => Promise.resolve());
  }

  /** Those that a server left half done. Only while no other server posts to this workspace. */
  private async settleOpen(workspaceId: string): Promise<void> {
    for (const post of await this.posts.findBy({ workspaceId, state: 'writing' }))
      await this.settle(post);
  }

  /** A push outlives the server that began it: what was given up a while ago may have landed since. */
  private async findLate({ id }: WorkspaceEntity): Promise<void> {
    const since = MoreThan(new Date(this.clock.now().getTime() - LATE_MS));
    const failed = await this.posts.findBy({ workspaceId: id, state: 'failed', postedAt: since });
    for (const post of failed)
      if (await this.history.contains(id, post.branch, post.commit)) await this.finish(post);
  }

  /** Finds out what became of a post that was cut short: the branch alone knows. */
  private async settle(post: PostEntity): Promise<void> {
    const workspace = await this.workspaces.findOneByOrFail({ id: post.workspaceId });
    try {
      await this.git.fetch(workspace.id, workspace.address);
    } catch (error) {
      this.log.warn(
        { err: error, post: post.id },
        'a post is left open until its repository can be read',
      );
      return;
    }
    if (await this.history.contains(workspace.id, post.branch, post.commit)) {
      await this.finish(post);
      this.log.info(
        { post: post.id, commit: post.commit },
        'an interrupted post had reached its branch',
      );
    } else {
      post.state = 'failed';
      await this.posts.update({ id: post.id }, { state: 'failed' });
      this.log.info(
        { post: post.id, commit: post.commit },
        'a post did not reach its branch; its draft stays open',
      );
    }
  }
}

/** Posts to one workspace are written one after another, whichever servers take them. */
function lockOf(workspaceId: string): string {
  return `post ${workspaceId}`;
}

function figuresOf({ consequences }: Answered): PostEntity['figures'] {
  const { outOfLine, copies, manifests } = consequences;
  return { outOfLine, copies, manifests };
}
