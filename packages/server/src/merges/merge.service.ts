import { Injectable } from '@nestjs/common';
import { randomUUID } from 'node:crypto';
import { posix } from 'node:path';
import {
  Chains,
  checkLock,
  explainLockChange,
  isWorkspaceFile,
  LOCK_FILE,
  mergeManifests,
  needGraph,
  nodeName,
  nodeNamed,
  readWorkspace,
  alignmentRows,
  type ManifestConflict,
  type MergeOutcome,
  type Resolution,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { toFileDiff } from '../drafts/draft.mapper.js';
import { GitHistory, type CommitInfo } from '../git/git-history.js';
import { GitService, type Author } from '../git/git.service.js';
import { JournalService } from '../journal/journal.service.js';
import type { PostEntity } from '../journal/post.entity.js';
import { toExplainedChange } from '../lock/lock-change.mapper.js';
import { Problem } from '../problems/problem.js';
import { RegistryService } from '../registry/registry.service.js';
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
} from './merge.dto.js';
import { settling } from './settling.js';

const MOST_CHAINS = 3;
/** Sections of manifests whose keys are packages. */
const OF_PACKAGES = new Set(['shared', 'everywhere', 'pins']);
const KINDS = new Set(['dev', 'peer', 'optional']);

/** Two branches, and the result of merging them. */
interface Sides {
  readonly ours: CommitInfo;
  readonly theirs: CommitInfo;
  readonly base: CommitInfo | null;
  readonly files: {
    readonly base: WorkspaceFiles;
    readonly ours: WorkspaceFiles;
    readonly theirs: WorkspaceFiles;
  };
}

/** Merges branches: manifests by requirement, the lockfile by resolving, the rest as git does. */
@Injectable()
export class MergeService {
  constructor(
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly snapshots: SnapshotService,
    private readonly registries: RegistryService,
    private readonly journal: JournalService,
    private readonly workers: WorkerPool,
    private readonly clock: Clock,
  ) {}

  /** The other branches, those that have something to merge first. */
  async branches(entity: WorkspaceEntity): Promise<BranchDto[]> {
    await this.snapshots.read(entity);
    const names = (await this.git.branches(entity.id)).filter((name) => name !== entity.branch);
    const all = await Promise.all(
      names.map(async (name) => {
        const head = await this.history.commitOf(entity.id, name);
        const isMerged = await this.history.contains(entity.id, entity.branch, head.commit);
        return { name, head, isMerged };
      }),
    );
    return all.sort((a, b) => Number(a.isMerged) - Number(b.isMerged));
  }

  async preview(entity: WorkspaceEntity, terms: MergeTermsDto): Promise<MergePreviewDto> {
    const sides = await this.sides(entity, terms.from);
    const common = {
      ours: sides.ours,
      theirs: sides.theirs,
      base: sides.base,
      files: [],
      change: null,
      sum: null,
      explanations: [],
      problems: [],
      message: `Merge ${terms.from} into ${entity.branch}`,
    };
    if (sides.base?.commit === sides.theirs.commit)
      return { ...common, kind: 'nothing', conflicts: [], otherConflicts: [] };
    const conflicts = this.conflicts(sides, terms.decisions);
    const { conflicts: paths } = await this.git.mergeTree(
      entity.id,
      sides.ours.commit,
      sides.theirs.commit,
    );
    const shown = {
      ...common,
      conflicts,
      otherConflicts: paths.filter((path) => !isWorkspaceFile(path)),
    };
    const outcome = await this.merge(entity, sides, terms.decisions);
    switch (outcome.kind) {
      case 'merged':
        return {
          ...shown,
          kind: 'merged',
          files: changedFiles(sides.files.ours, outcome.files),
          change: toExplainedChange(
            explainLockChange(resolutionOf(sides.files.ours), outcome.resolution),
          ),
          sum: outcome.sum,
        };
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

  /** @throws Problem APPROVAL_MISSING, BRANCH_MOVED, MERGE_UNDECIDED, MERGE_OTHER_FILES, POST_REFUSED */
  post(entity: WorkspaceEntity, request: PostMergeDto, author: Author): Promise<PostEntity> {
    if (entity.needsApproval)
      throw new Problem(
        'APPROVAL_MISSING',
        409,
        'Nobody can approve it here',
        'This workspace asks for a second person’s approval before a post, and a merge has no draft that could be approved. Merge in a clone with git and our merge driver.',
      );
    return this.journal.alone(entity, async () => {
      await this.snapshots.read(entity, 'now');
      const sides = await this.sides(entity, request.from);
      if (sides.ours.commit !== request.ours || sides.theirs.commit !== request.theirs)
        throw new Problem(
          'BRANCH_MOVED',
          409,
          'A branch moved',
          'One of the two branches has moved since you looked. Nothing was written. Look at the merge again.',
        );
      const outcome = await this.merge(entity, sides, request.decisions);
      if (outcome.kind !== 'merged')
        throw new Problem(
          'MERGE_UNDECIDED',
          409,
          'The merge is not settled',
          'Something stands against this merge still. Nothing was written.',
        );
      const { tree, conflicts } = await this.git.mergeTree(
        entity.id,
        sides.ours.commit,
        sides.theirs.commit,
      );
      const others = conflicts.filter((path) => !isWorkspaceFile(path));
      if (others.length > 0)
        throw new Problem(
          'MERGE_OTHER_FILES',
          409,
          'Other files are in conflict',
          `git cannot merge ${others.slice(0, 5).join(', ')}. Nothing was written. Merge with git and our merge driver instead.`,
        );
      const { id } = entity;
      const files = [...outcome.files].map(([path, text]) => ({ path, text }));
      const gone = (await this.history.tree(id, tree))
        .map(({ path }) => path)
        .filter((path) => isWorkspaceFile(path) && !outcome.files.has(path));
      const at = this.clock.now();
      const message = `${request.message.trim()}\n`;
      const { ours, theirs } = sides;
      const commit = await this.git.writeCommit(id, ours.commit, files, message, author, at, {
        parent: theirs.commit,
        tree,
        gone,
      });
      return this.journal.land(entity, ours.commit, {
        draftId: randomUUID(),
        branch: entity.branch,
        baseCommit: ours.commit,
        commit,
        message,
        authorName: author.name,
        authorEmail: author.email,
        edits: [
          {
            subject: request.from,
            verb: 'merged into',
            from: null,
            to: entity.branch,
            detail: `at ${theirs.commit.slice(0, 7)}`,
          },
        ],
        figures: this.figures(sides, outcome),
        lockSum: outcome.sum,
        postedAt: at,
      });
    });
  }

  private figures(
    { files: { ours } }: Sides,
    outcome: Extract<MergeOutcome, { kind: 'merged' }>,
  ): PostEntity['figures'] {
    const today = this.clock.today();
    const off = (files: WorkspaceFiles, resolution: Resolution | null): number => {
      const { workspace } = readWorkspace(files);
      if (workspace === null) return 0;
      return alignmentRows(workspace, new Map(), resolution, today).filter((row) => row.off > 0)
        .length;
    };
    const before = resolutionOf(ours);
    return {
      outOfLine: [off(ours, before), off(outcome.files, outcome.resolution)],
      copies: [before?.copies.length ?? null, outcome.resolution.copies.length],
      manifests: changedFiles(ours, outcome.files).filter(({ path }) => path !== LOCK_FILE).length,
    };
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
    const [b, o, t] = await Promise.all(
      [base, ours, theirs].map(({ commit }) => this.history.readFiles(id, commit)),
    );
    return { ours, theirs, base, files: { base: b!, ours: o!, theirs: t! } };
  }

  /** In a worker thread: it reads three workspaces and resolves. */
  private async merge(
    entity: WorkspaceEntity,
    { files }: Sides,
    decisions: readonly DecisionDto[],
  ): Promise<MergeOutcome> {
    let { records } = (await this.snapshots.read(entity)).base;
    for (;;) {
      const today = this.clock.today();
      const outcome = await this.workers.run('mergeOf', { files, decisions, records, today });
      if (outcome.kind !== 'ask') return outcome;
      // What the other side requires beside what is known already.
      const names = [...records.keys(), ...outcome.names];
      ({ records } = await this.registries.read(entity.registryUrl, names));
      if (!outcome.names.every((name) => records.has(name))) return outcome;
    }
  }

  /** All that both sides changed, decided or not. */
  private conflicts({ files }: Sides, decisions: readonly DecisionDto[]): MergeConflictDto[] {
    const decided = settling(decisions);
    const merged = mergeManifests(files);
    if (merged.kind !== 'conflicts') return [];
    const resolution = resolutionOf(files.ours);
    const graph = resolution === null ? null : needGraph(resolution);
    return merged.conflicts.map((conflict) => {
      const name = packageOf(conflict);
      const found: string[][] = [];
      const project = graph === null ? null : nodeNamed(graph, posix.dirname(conflict.file));
      const chains =
        graph === null ? null : new Chains(graph, project === null ? undefined : [project]);
      if (name !== null && graph !== null && chains !== null)
        graph.resolution.copies.forEach((copy, i) => {
          if (copy.name !== name || found.length >= MOST_CHAINS) return;
          for (const chain of chains.to(graph.projectCount + i)) {
            found.push(chain.map((node) => nodeName(graph, node)));
            break;
          }
        });
      return {
        ...conflict,
        path: [...conflict.path],
        decided: decided(conflict),
        package: name,
        chains: found,
      };
    });
  }
}

function packageOf({ path }: ManifestConflict): string | null {
  const [section, second, third] = path;
  if (section === 'needs')
    return second !== undefined && KINDS.has(second) ? (third ?? null) : (second ?? null);
  if (section !== undefined && OF_PACKAGES.has(section)) return second ?? null;
  return section === 'exceptions' ? (third ?? null) : null;
}

function resolutionOf(files: WorkspaceFiles): Resolution | null {
  const { workspace } = readWorkspace(files);
  return workspace === null ? null : checkLock(workspace, files).resolution;
}

function changedFiles(before: WorkspaceFiles, after: WorkspaceFiles) {
  return [...after]
    .filter(([path, text]) => before.get(path) !== text)
    .map(([path, text]) => toFileDiff({ path, before: before.get(path) ?? null, after: text }));
}
