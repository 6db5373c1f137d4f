import { Injectable } from '@nestjs/common';
import type { Edit } from '@deep-ledger/core';
import { GitFiles } from '../git/git-files.js';
import { GitHistory, type CommitInfo } from '../git/git-history.js';
import { Problem } from '../problems/problem.js';
import { WorkerPool } from '../workers/worker-pool.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { DraftEntry } from './draft.entity.js';

/** Edits that take commits back, worked out from the repository alone: a caller's words about a commit are ignored. */
@Injectable()
export class TakeBacks {
  constructor(
    private readonly git: GitHistory,
    private readonly files: GitFiles,
    private readonly workers: WorkerPool,
  ) {}

  /** @throws Problem POINT_UNKNOWN, NOTHING_TO_REVERSE */
  async of(
    workspace: WorkspaceEntity,
    commit: string,
  ): Promise<{ readonly commit: CommitInfo; readonly edit: Edit }> {
    const info = await this.git.commitOf(workspace.id, commit);
    const parent = await this.git.parentOf(workspace.id, info.commit);
    const edit = parent === null ? null : await this.between(workspace, parent, info);
    if (edit !== null) return { commit: info, edit };
    throw new Problem(
      'NOTHING_TO_REVERSE',
      422,
      'Nothing to take back',
      `${info.commit.slice(0, 7)} changed nothing that a manifest or the lockfile says${parent === null ? ' and is the first commit' : ''}.`,
    );
  }

  private async between(
    { id }: WorkspaceEntity,
    parent: string,
    { commit, subject: title }: CommitInfo,
  ): Promise<Edit | null> {
    const before = await this.files.readFiles(id, parent);
    const after = await this.files.readFiles(id, commit);
    const task = { commit: { commit, title }, before, after };
    return this.workers.runFor([before, after], 'takeBackOf', task);
  }

  /**
   * Entries as they were sent, with every taking back as the repository has it.
   * @param known entries that were worked out before
   * @throws Problem POINT_UNKNOWN, NOTHING_TO_REVERSE
   */
  async workedOut(
    workspace: WorkspaceEntity,
    entries: readonly DraftEntry[],
    known: readonly DraftEntry[],
  ): Promise<readonly DraftEntry[]> {
    const worked: DraftEntry[] = [];
    for (const { edit, isOut } of entries)
      worked.push({
        edit: edit.kind === 'take-back' ? await this.again(workspace, edit.commit, known) : edit,
        isOut,
      });
    return worked;
  }

  private async again(
    workspace: WorkspaceEntity,
    commit: string,
    known: readonly DraftEntry[],
  ): Promise<Edit> {
    const before = known.find(({ edit }) => edit.kind === 'take-back' && edit.commit === commit);
    return before?.edit ?? (await this.of(workspace, commit)).edit;
  }
}
