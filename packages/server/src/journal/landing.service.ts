import { randomUUID } from 'node:crypto';
import { Inject, Injectable, type OnApplicationBootstrap } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import type { Logger } from 'pino';
import {
  LessThan,
  MoreThan,
  type DataSource,
  type FindOptionsWhere,
  type Repository,
} from 'typeorm';
import { Clock } from '../clock.js';
import { Exclusive, LockTaken } from '../database/exclusive.js';
import { DraftService } from '../drafts/draft.service.js';
import { endsWithin } from '../ends-within.js';
import { GitHistory } from '../git/git-history.js';
import { GitService } from '../git/git.service.js';
import { LOGGER } from '../logging/nest-logger.js';
import { Problem } from '../problems/problem.js';
import { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { PostEntity } from './post.entity.js';

/** How long after a post was given up it may still turn out to have reached its branch. */
const LATE_MS = 10 * 60_000;
const CUT_SHORT_MS = 5_000;
/** How long a post waits for another one to the same workspace. */
const PATIENCE_MS = 5_000;
/** How long a reader, or a start, waits for the outcome of a post that was cut short. */
const LOOK_MS = 1_000;

/**
 * Brings commits to their branches and keeps the list of them, so that a crash at any point leaves both or neither.
 */
@Injectable()
export class Landing implements OnApplicationBootstrap {
  constructor(
    @InjectRepository(PostEntity) private readonly posts: Repository<PostEntity>,
    @InjectRepository(WorkspaceEntity) private readonly workspaces: Repository<WorkspaceEntity>,
    @InjectDataSource() private readonly database: DataSource,
    @Inject(LOGGER) private readonly log: Logger,
    private readonly drafts: DraftService,
    private readonly exclusive: Exclusive,
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly clock: Clock,
  ) {}

  async onApplicationBootstrap(): Promise<void> {
    const open = await this.posts.findBy({ state: 'writing' });
    const ids = [...new Set(open.map((post) => post.workspaceId))];
    await this.briefly(() =>
      Promise.all(ids.map((id) => this.exclusive.run(lockOf(id), () => this.settleOpen(id)))),
    );
  }

  /**
   * Does something that ends in `land`, while no other server posts to the workspace.
   * @throws Problem POST_UNDER_WAY while another post is being written and does not end
   */
  async alone<T>({ id }: WorkspaceEntity, work: () => Promise<T>): Promise<T> {
    try {
      return await this.exclusive.run(
        lockOf(id),
        async () => {
          await this.settleOpen(id);
          await this.findLate(await this.posts.findBy(this.lately(id)));
          return work();
        },
        PATIENCE_MS,
      );
    } catch (error) {
      if (!(error instanceof LockTaken)) throw error;
      throw new Problem(
        'POST_UNDER_WAY',
        409,
        'Another post is being written',
        'Another post to this workspace waits for its repository. Nothing was written here; try again when the journal shows the other, or a minute from now.',
      );
    }
  }

  /**
   * Moves a branch to a commit and puts that into the journal. Only within `alone`.
   * @param base where the branch must still stand; null: there must be none yet
   * @throws Problem BRANCH_MOVED, BRANCH_EXISTS, POST_REFUSED, POST_UNCERTAIN
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
      await this.git.moveBranch(workspace, branch, base, commit);
    } catch (error) {
      await this.settle(post);
      if (post.state !== 'posted') throw error;
      return post;
    }
    await this.finish(post);
    return post;
  }

  /** Finds out what became of posts that were cut short, before the journal is shown; but waits for no repository. */
  async catchUp({ id }: WorkspaceEntity): Promise<void> {
    await this.briefly(async () => {
      const now = this.clock.now().getTime();
      const cutShort = LessThan(new Date(now - CUT_SHORT_MS));
      const open = await this.posts.findBy([
        { workspaceId: id, state: 'writing', postedAt: cutShort },
        this.lately(id),
      ]);
      if (open.some(({ state }) => state === 'writing')) await this.settleCutShort(id);
      await this.findLate(open.filter(({ state }) => state === 'failed'));
    });
  }

  /** Posts that were given up a while ago, and may still reach their branch. */
  private lately(workspaceId: string): FindOptionsWhere<PostEntity> {
    const since = new Date(this.clock.now().getTime() - LATE_MS);
    return { workspaceId, state: 'failed', postedAt: MoreThan(since) };
  }

  /** Does something, and lets whoever asked go on after a moment while it is still done. */
  private async briefly(work: () => Promise<unknown>): Promise<void> {
    const done = work().catch((error: unknown) => {
      this.log.warn({ err: error }, 'what became of a post is not known yet');
    });
    await endsWithin(done, LOOK_MS);
  }

  private async finish(post: PostEntity): Promise<void> {
    post.state = 'posted';
    await this.database.transaction(async (manager) => {
      await manager.update(PostEntity, { id: post.id }, { state: 'posted' });
      await this.drafts.posted(manager, post);
    });
  }

  /** Posts that have been under way for longer than any takes: whoever wrote them, or the database, went away. */
  private async settleCutShort(id: string): Promise<void> {
    await this.exclusive
      .run(lockOf(id), () => this.settleOpen(id), 0)
      .catch((error: unknown) => {
        // It is being written at this moment.
        if (!(error instanceof LockTaken)) throw error;
      });
  }

  /** Those that a server left half done. Only while no other server posts to this workspace. */
  private async settleOpen(workspaceId: string): Promise<void> {
    for (const post of await this.posts.findBy({ workspaceId, state: 'writing' }))
      await this.settle(post);
  }

  /** A push outlives the server that began it: what was given up a while ago may have landed since. */
  private async findLate(failed: readonly PostEntity[]): Promise<void> {
    for (const post of failed)
      if (await this.history.contains(post.workspaceId, post.branch, post.commit))
        await this.finish(post);
  }

  /** Finds out what became of a post that was cut short: the branch alone knows. */
  private async settle(post: PostEntity): Promise<void> {
    const workspace = await this.workspaces.findOneByOrFail({ id: post.workspaceId });
    try {
      await this.git.fetch(workspace);
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
