import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { LRUCache } from 'lru-cache';
import { In, Not, type Repository } from 'typeorm';
import { GitFiles } from '../git/git-files.js';
import { GitHistory, type CommitInfo, type HistoryCommit } from '../git/git-history.js';
import type { Compared } from '../workers/compare-of.js';
import { WorkerPool } from '../workers/worker-pool.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { PostEntity } from './post.entity.js';

export interface JournalEntry extends HistoryCommit {
  /** Null: it was made outside. */
  readonly post: PostEntity | null;
}

export interface Comparison extends Compared {
  readonly from: CommitInfo;
  readonly to: CommitInfo;
}

const BEFORE_THE_FIRST = { commit: '', subject: 'before the first commit', author: '' };

/** The branch's commits in git's order, whatever their dates, with others put in before the first that is older. */
function woven(
  branch: readonly JournalEntry[],
  others: readonly JournalEntry[],
): readonly JournalEntry[] {
  const entries = [...branch];
  for (const other of others) {
    const at = entries.findIndex((one) => Date.parse(one.at) < Date.parse(other.at));
    entries.splice(at < 0 ? entries.length : at, 0, other);
  }
  return entries;
}

/** Posts to other branches, as far back as the page goes. */
function elsewhereSince(
  posts: readonly PostEntity[],
  since: string | undefined,
): readonly JournalEntry[] {
  return posts
    .filter(({ postedAt }) => since === undefined || postedAt.getTime() >= Date.parse(since))
    .map((post) => ({
      commit: post.commit,
      subject: post.message.split('\n')[0]!,
      author: post.authorName,
      at: post.postedAt.toISOString(),
      files: [],
      post,
    }));
}

/** What the repository's history says of the workspace. */
@Injectable()
export class HistoryService {
  /** Two commits never differ otherwise than they do. */
  private readonly compared = new LRUCache<string, Promise<Comparison>>({ max: 50 });

  constructor(
    @InjectRepository(PostEntity) private readonly posts: Repository<PostEntity>,
    private readonly git: GitHistory,
    private readonly files: GitFiles,
    private readonly workers: WorkerPool,
  ) {}

  /** What was posted, newest first. */
  listPosts({ id }: WorkspaceEntity): Promise<PostEntity[]> {
    return this.posts.find({
      where: { workspaceId: id, state: 'posted' },
      order: { postedAt: 'DESC' },
    });
  }

  /** Commits that touched the workspace's files, with the posts among them, and posts to other branches in their place. */
  async entries(
    workspace: WorkspaceEntity,
    head: string,
    skip: number,
    count: number,
  ): Promise<{ readonly entries: readonly JournalEntry[]; readonly hasMore: boolean }> {
    const found = await this.git.commits(workspace.id, head, skip, count + 1);
    const page = found.slice(0, count);
    const posted = { workspaceId: workspace.id, state: 'posted' as const };
    const posts = await this.posts.findBy([
      { ...posted, commit: In(page.map(({ commit }) => commit)) },
      ...(skip > 0 ? [] : [{ ...posted, branch: Not(workspace.branch) }]),
    ]);
    const byCommit = new Map(posts.map((post) => [post.commit, post]));
    const here = page.map((one) => ({ ...one, post: byCommit.get(one.commit) ?? null }));
    const elsewhere = posts.filter(({ branch }) => skip === 0 && branch !== workspace.branch);
    const entries = woven(here, elsewhereSince(elsewhere, here.at(-1)?.at));
    return { entries, hasMore: found.length > count };
  }

  /**
   * Two commits or branches, by meaning.
   * @param from null: the first parent of `to`
   * @throws Problem POINT_UNKNOWN
   */
  async compare(workspace: WorkspaceEntity, from: string | null, to: string): Promise<Comparison> {
    const later = await this.git.commitOf(workspace.id, to, workspace.branch);
    const parent = from ?? (await this.git.parentOf(workspace.id, later.commit));
    const earlier =
      parent === null ? null : await this.git.commitOf(workspace.id, parent, workspace.branch);
    const key = `${workspace.id} ${earlier?.commit ?? ''} ${later.commit}`;
    const known = this.compared.get(key) ?? this.compareCommits(workspace, earlier, later);
    this.compared.set(key, known);
    known.catch(() => this.compared.delete(key));
    return known;
  }

  private async compareCommits(
    workspace: WorkspaceEntity,
    earlier: CommitInfo | null,
    later: CommitInfo,
  ): Promise<Comparison> {
    const { id } = workspace;
    const before = earlier === null ? new Map() : await this.files.readFiles(id, earlier.commit);
    const after = await this.files.readFiles(id, later.commit);
    const compared = await this.workers.runFor([before, after], 'compareOf', { before, after });
    return { from: earlier ?? { ...BEFORE_THE_FIRST, at: later.at }, to: later, ...compared };
  }
}
