import { Injectable } from '@nestjs/common';
import { reversalOf, type Edit } from '@deep-ledger/core';
import { GitHistory, type CommitInfo } from '../git/git-history.js';
import { Problem } from '../problems/problem.js';
import { commitPoint } from '../workspaces/commit-point.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { DraftEntry } from './draft.entity.js';

/** Edits that take commits back, worked out from the repository alone: a caller's words about a commit are ignored. */
@Injectable()
export class TakeBacks {
  constructor(private readonly git: GitHistory) {}

  /** @throws Problem POINT_UNKNOWN, NOTHING_TO_REVERSE */
  async of(
    workspace: WorkspaceEntity,
    commit: string,
  ): Promise<{ readonly commit: CommitInfo; readonly edit: Edit }> {
    const info = await this.git.commitOf(workspace.id, commit);
    const parent = await this.git.parentOf(workspace.id, info.commit);
    const before = await commitPoint(this.git, workspace.id, parent);
    const after = await commitPoint(this.git, workspace.id, info.commit);
    const edit =
      parent === null
        ? null
        : reversalOf({ commit: info.commit, title: info.subject }, before.files, after.files, {
            before: before.lock?.resolution ?? null,
            after: after.lock?.resolution ?? null,
          });
    if (edit !== null) return { commit: info, edit };
    throw new Problem(
      'NOTHING_TO_REVERSE',
      422,
      'Nothing to take back',
      `${info.commit.slice(0, 7)} changed nothing that a manifest or the lockfile says${parent === null ? ' and is the first commit' : ''}.`,
    );
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
