import { Injectable } from '@nestjs/common';
import { createHash, randomUUID } from 'node:crypto';
import {
  LOCK_FILE,
  readWorkspace,
  ROOT_FILE,
  SHAPES_FILE,
  workspaceFileTest,
  type PackageRecords,
  type Workspace,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { AnswerStore } from '../answers/answer-store.js';
import { AnswersService } from '../answers/answers.service.js';
import { Clock } from '../clock.js';
import { toFileDiff, toOpenTerms } from '../drafts/draft.mapper.js';
import { GitFiles } from '../git/git-files.js';
import { GitHistory, type CommitInfo } from '../git/git-history.js';
import { GitService } from '../git/git.service.js';
import { noteAwaited } from '../jobs/awaited-work.js';
import { JobsService, type JobWatch } from '../jobs/jobs.service.js';
import { integrityDisputed, termsNotAccepted } from '../journal/draft-posting.js';
import { Landing } from '../journal/landing.service.js';
import type { PostEntity } from '../journal/post.entity.js';
import { toExplainedChange } from '../lock/lock-change.mapper.js';
import { Problem } from '../problems/problem.js';
import { PRODUCT_VERSION } from '../product-version.js';
import { RegistryService } from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import { authorOf, type AccountActor, type Actor } from '../team/actor.js';
import type { Merged, MergeResult, MergeSides, MergeTask } from '../workers/merge-of.js';
import { WorkerPool } from '../workers/worker-pool.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type {
  BranchDto,
  DecisionDto,
  MergeConflictDto,
  MergePreviewDto,
  MergeTermsDto,
  PostMergeDto,
  SeenMergeDto,
} from './merge.dto.js';
import { MergeApprovals } from './merge-approvals.js';
import type { MergeQuestion } from './merge-question.js';
import { settling, type Decision } from './settling.js';

/** Two branches, and the result of merging them. */
interface Sides {
  readonly ours: CommitInfo;
  readonly theirs: CommitInfo;
  /** Where they parted. */
  readonly base: CommitInfo;
  readonly files: MergeSides;
}

/** Merges branches: manifests by requirement, the lockfile by resolving, the rest as git does. */
@Injectable()
export class MergeService {
  constructor(
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly files: GitFiles,
    private readonly snapshots: SnapshotService,
    private readonly registries: RegistryService,
    private readonly landing: Landing,
    private readonly approvals: MergeApprovals,
    private readonly workers: WorkerPool,
    private readonly answers: AnswersService,
    private readonly store: AnswerStore,
    private readonly clock: Clock,
    jobs: JobsService,
  ) {
    jobs.register('merge', (on, key, watch) => this.work(on, key, watch));
  }

  /** The other branches, those that have something to merge first. */
  async branches(entity: WorkspaceEntity): Promise<BranchDto[]> {
    await this.snapshots.read(entity);
    const [heads, merged] = await Promise.all([
      this.history.heads(entity.id),
      this.history.mergedInto(entity.id, entity.branch),
    ]);
    const all = heads
      .filter(({ name }) => name !== entity.branch)
      .map(({ name, head }) => ({ name, head, isMerged: merged.has(name) }));
    return all.sort((a, b) => Number(a.isMerged) - Number(b.isMerged));
  }

  async preview(
    entity: WorkspaceEntity,
    terms: MergeTermsDto,
    actor: Actor,
  ): Promise<MergePreviewDto> {
    const sides = await this.sides(entity, terms.from);
    const common = {
      ours: sides.ours,
      theirs: sides.theirs,
      base: sides.base,
      files: [],
      change: null,
      sum: null,
      result: null,
      disputed: [],
      openTerms: [],
      review: null,
      explanations: [],
      problems: [],
      message: `Merge ${terms.from} into ${entity.branch}`,
    };
    if (sides.base.commit === sides.theirs.commit)
      return { ...common, kind: 'nothing', conflicts: [], otherConflicts: [] };
    const conflicts = await this.conflicts(sides, terms.decisions);
    const { conflicts: paths } = await this.git.mergeTree(
      entity.id,
      sides.ours.commit,
      sides.theirs.commit,
    );
    const isOfWorkspace = ofEitherSide(sides);
    const shown = {
      ...common,
      conflicts,
      otherConflicts: paths.filter((path) => !isOfWorkspace(path)),
    };
    const outcome = await this.merge(entity, sides, terms.decisions);
    switch (outcome.kind) {
      case 'merged': {
        const result = resultOf(outcome);
        const seen = { ours: sides.ours.commit, theirs: sides.theirs.commit, result };
        return {
          ...shown,
          kind: 'merged',
          result,
          disputed: outcome.touched.map((one) => ({ ...one })),
          openTerms: outcome.openTerms.map(toOpenTerms),
          review: await this.approvals.of(entity, seen, actor),
          files: changedFiles(sides.files.ours, outcome.files),
          change: toExplainedChange(outcome.change),
          sum: outcome.sum,
        };
      }
      case 'conflicts':
        return { ...shown, kind: 'conflicts' };
      case 'unanswered':
        return {
          ...shown,
          kind: 'unanswered',
          explanations: outcome.unanswered.map(({ sentences }) => [...sentences]),
        };
      case 'unreadable':
        return { ...shown, kind: 'unreadable', problems: [...outcome.problems] };
      case 'ask':
        return {
          ...shown,
          kind: 'unanswered',
          explanations: [[`The registry says nothing of ${outcome.names.join(', ')}.`]],
        };
    }
  }

  /** @throws Problem BRANCH_MOVED, MERGE_UNDECIDED, MERGE_DIFFERS, INTEGRITY_DISPUTED, TERMS_NOT_ACCEPTED */
  async approve(entity: WorkspaceEntity, seen: SeenMergeDto, actor: AccountActor): Promise<void> {
    await this.seen(entity, seen);
    await this.approvals.approve(entity, seen, actor);
  }

  /**
   * The sides and the result of a merge, if they are those that somebody has seen.
   * @throws Problem BRANCH_MOVED, MERGE_UNDECIDED, MERGE_DIFFERS, INTEGRITY_DISPUTED,
   *   TERMS_NOT_ACCEPTED
   */
  private async seen(
    entity: WorkspaceEntity,
    seen: SeenMergeDto,
  ): Promise<{ readonly sides: Sides; readonly outcome: Merged }> {
    const sides = await this.sides(entity, seen.from);
    if (sides.ours.commit !== seen.ours || sides.theirs.commit !== seen.theirs)
      throw new Problem(
        'BRANCH_MOVED',
        409,
        'A branch moved',
        'One of the two branches has moved since you looked. Nothing was written. Look at the merge again.',
      );
    const outcome = await this.merge(entity, sides, seen.decisions);
    if (outcome.kind !== 'merged')
      throw new Problem(
        'MERGE_UNDECIDED',
        409,
        'The merge is not settled',
        'Something stands against this merge still. Nothing was written.',
      );
    if (resultOf(outcome) !== seen.result)
      throw new Problem(
        'MERGE_DIFFERS',
        409,
        'The merge comes out otherwise now',
        'It leads to other files than you saw: the registry, the day or a decision is another. Nothing was written. Look at the merge again.',
      );
    if (outcome.touched.length > 0) throw integrityDisputed(outcome.touched);
    if (outcome.openTerms.length > 0)
      throw termsNotAccepted(outcome.openTerms, `in a draft on ${entity.branch}`);
    return { sides, outcome };
  }

  /**
   * Writes a merge as a commit with both parents.
   * @throws Problem APPROVAL_MISSING, BRANCH_MOVED, MERGE_UNDECIDED, MERGE_DIFFERS, MERGE_OTHER_FILES,
   *   INTEGRITY_DISPUTED, TERMS_NOT_ACCEPTED, POST_REFUSED, POST_UNDER_WAY, POST_UNCERTAIN
   */
  async post(
    entity: WorkspaceEntity,
    request: PostMergeDto,
    poster: AccountActor,
  ): Promise<PostEntity> {
    const post = await this.landing.alone(entity, async () => {
      await this.snapshots.read(entity, 'now');
      const { sides, outcome } = await this.seen(entity, request);
      const approvals = await this.approvals.demand(entity, request, poster);
      const { tree, conflicts } = await this.git.mergeTree(
        entity.id,
        sides.ours.commit,
        sides.theirs.commit,
      );
      const isOfWorkspace = ofEitherSide(sides);
      const others = conflicts.filter((path) => !isOfWorkspace(path));
      if (others.length > 0)
        throw new Problem(
          'MERGE_OTHER_FILES',
          409,
          'Other files are in conflict',
          `git cannot merge ${others.slice(0, 5).join(', ')}. Nothing was written. Merge with git and our merge driver instead.`,
        );
      const { id } = entity;
      const files = [...outcome.files].map(([path, text]) => ({ path, text }));
      const gone = (await this.files.tree(id, tree))
        .map(({ path }) => path)
        .filter((path) => isOfWorkspace(path) && !outcome.files.has(path));
      const at = this.clock.now();
      const message = await this.git.withTrailers(
        request.message,
        approvals.map(({ name, email }) => ({ key: 'Approved-by', name, email })),
      );
      const { ours, theirs } = sides;
      const author = authorOf(poster);
      const commit = await this.git.writeCommit(id, {
        base: ours.commit,
        files,
        message,
        author,
        committer: author,
        at,
        merge: { parent: theirs.commit, tree, gone },
      });
      return this.landing.land(entity, ours.commit, {
        draftId: randomUUID(),
        draftRevision: null,
        entries: [],
        branch: entity.branch,
        baseCommit: ours.commit,
        commit,
        message,
        authorName: author.name,
        authorEmail: author.email,
        committerName: author.name,
        committerEmail: author.email,
        approvedBy: approvals.map(({ name, email }) => `${name} <${email}>`),
        edits: [
          {
            subject: request.from,
            verb: 'merged into',
            from: null,
            to: entity.branch,
            detail: `at ${theirs.commit.slice(0, 7)}`,
          },
        ],
        figures: figuresOf(sides, outcome),
        lockSum: outcome.sum,
        postedAt: at,
      });
    });
    await this.snapshots.read(entity, 'now');
    return post;
  }

  private async sides(entity: WorkspaceEntity, from: string): Promise<Sides> {
    const { id, branch } = entity;
    const { head: ours } = await this.snapshots.read(entity);
    const theirs = await this.history.commitOf(id, from);
    const found = await this.git.mergeBase(id, ours.commit, theirs.commit);
    const base = found === null ? null : await this.history.commitOf(id, found);
    if (base === null)
      throw new Problem(
        'BRANCHES_UNRELATED',
        422,
        'Nothing in common',
        `${from} and ${branch} have no commit in common, so there is nothing to merge by.`,
      );
    const files = await this.filesOf(
      id,
      [base, ours, theirs].map(({ commit }) => commit),
    );
    return { ours, theirs, base, files };
  }

  /** @param commits where the branches parted, ours, theirs */
  private async filesOf(id: string, commits: readonly string[]): Promise<MergeSides> {
    const [base, ours, theirs] = await Promise.all(
      commits.map((commit) => this.files.readFiles(id, commit)),
    );
    return { base: base!, ours: ours!, theirs: theirs! };
  }

  /** Of a small workspace at once; of a large one by a worker process, once for all who ask. */
  private async merge(
    entity: WorkspaceEntity,
    { ours, theirs, base, files }: Sides,
    decisions: readonly DecisionDto[],
  ): Promise<MergeResult> {
    const snapshot = await this.snapshots.read(entity);
    if (!this.answers.isLarge(snapshot.base)) return this.workOut(entity, files, decisions);
    const question = {
      kind: 'merge',
      base: base.commit,
      theirs: theirs.commit,
      decisions,
    } as const;
    const about = [
      PRODUCT_VERSION,
      entity.registries,
      entity.bringIn,
      ours.commit,
      question,
      snapshot.base.today,
      snapshot.registry.fingerprint,
    ];
    const key = createHash('sha256').update(JSON.stringify(about)).digest('hex');
    const work = { workspace: entity, kind: 'merge', key } as const;
    noteAwaited(work);
    const found = await this.store.ask(entity, work, ours.commit, question);
    return found as MergeResult;
  }

  /** The job of a worker process. */
  private work(entity: WorkspaceEntity, key: string, { signal }: JobWatch): Promise<void> {
    return this.store.fill<MergeQuestion>(entity, key, async (ours, question) => {
      const commits = [question.base, ours, question.theirs];
      for (const commit of commits)
        if (!(await this.history.has(entity.id, commit))) await this.git.fetch(entity, signal);
      return this.workOut(entity, await this.filesOf(entity.id, commits), question.decisions);
    });
  }

  /** In a worker thread: it reads three workspaces and resolves. */
  private async workOut(
    entity: WorkspaceEntity,
    files: MergeSides,
    decisions: readonly Decision[],
  ): Promise<MergeResult> {
    const { base } = await this.snapshots.read(entity);
    const workspace = await this.settings({ files, decisions }, base.workspace);
    const sources = sourcesOf(entity, workspace);
    // Where the merge changes which registry a name belongs to, what the other one said of it counts for nothing.
    const isSame =
      JSON.stringify(sources.registries) === JSON.stringify(base.workspace?.registries ?? []);
    let records: PackageRecords = isSame ? base.records : new Map();
    for (;;) {
      const today = this.clock.today();
      const outcome = await this.workers.run('mergeOf', { files, decisions, records, today });
      if (outcome.kind !== 'ask') return outcome;
      // The packages that the other side requires beside those that are known already.
      const names = [...records.keys(), ...outcome.names];
      ({ records } = await this.registries.read(sources, names));
      if (!outcome.names.every((name) => records.has(name))) return outcome;
    }
  }

  /** A workspace with the registries that hold after the merge. */
  private async settings(
    task: Pick<MergeTask, 'files' | 'decisions'>,
    now: Workspace | null,
  ): Promise<Workspace | null> {
    const { ours, theirs } = task.files;
    const isSame = [ROOT_FILE, SHAPES_FILE].every((path) => ours.get(path) === theirs.get(path));
    const merged = isSame ? null : await this.workers.run('mergedSettings', task);
    return merged === null ? now : readWorkspace(merged).workspace;
  }

  /** All that both sides changed, decided or not. */
  private async conflicts(
    { files }: Sides,
    decisions: readonly DecisionDto[],
  ): Promise<MergeConflictDto[]> {
    const decided = settling(decisions);
    const found = await this.workers.runFor(Object.values(files), 'conflictsOf', files);
    return found.map(({ conflict, package: name, chains }) => ({
      ...conflict,
      path: [...conflict.path],
      decided: decided(conflict),
      package: name,
      chains: chains.map((chain) => [...chain]),
    }));
  }
}

/** Whether a path is one of the files of either side's workspace. */
function ofEitherSide({ files }: Sides): (path: string) => boolean {
  const tests = [files.ours, files.theirs].map((side) => workspaceFileTest(side.get(SHAPES_FILE)));
  return (path) => tests.some((test) => test(path));
}

/** A sum over all of the workspace's files as the merge leaves them. */
function resultOf({ files }: Merged): string {
  const hash = createHash('sha256');
  for (const [path, text] of [...files].sort(([a], [b]) => (a < b ? -1 : 1)))
    hash.update(JSON.stringify([path, text]));
  return hash.digest('hex');
}

function figuresOf(
  { files: { ours } }: Sides,
  { outOfLine, copies, files }: Merged,
): PostEntity['figures'] {
  const manifests = changedFiles(ours, files).filter(({ path }) => path !== LOCK_FILE).length;
  return { outOfLine: [...outOfLine], copies: [...copies], manifests };
}

function changedFiles(before: WorkspaceFiles, after: WorkspaceFiles) {
  return [...after]
    .filter(([path, text]) => before.get(path) !== text)
    .map(([path, text]) => toFileDiff({ path, before: before.get(path) ?? null, after: text }));
}
