import { Injectable } from '@nestjs/common';
import type { Edit } from '@deep-ledger/core';
import { Problem } from '../problems/problem.js';
import type { Actor } from '../team/actor.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { signedAcceptances } from './acceptances.js';
import type { NewDraftDto } from './draft.dto.js';
import { DraftEvaluator, type Evaluated } from './draft-evaluator.js';
import { editsOf, type DraftEntity, type DraftEntry } from './draft.entity.js';
import { changedDraft, DraftService } from './draft.service.js';
import { TakeBacks } from './take-backs.js';

/** A draft with what comes of it. */
export interface ChangedDraft {
  readonly draft: DraftEntity;
  readonly evaluated: Evaluated;
}

/** How often additions that cross are tried again. */
const MOST_TRIES = 10;

/** Changes drafts. Nothing is kept that was not evaluated first, so that no draft ends in a state that cannot be shown. */
@Injectable()
export class DraftChanges {
  constructor(
    private readonly drafts: DraftService,
    private readonly evaluator: DraftEvaluator,
    private readonly takeBacks: TakeBacks,
  ) {}

  /** @throws Problem as evaluating does */
  async begin(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    body: NewDraftDto,
    by: Actor,
    edits: readonly Edit[] = [],
  ): Promise<ChangedDraft> {
    const evaluated = await this.evaluator.evaluate(workspace, snapshot, edits);
    const { commit } = snapshot.head;
    return { draft: await this.drafts.create(workspace, commit, body, by, edits), evaluated };
  }

  /**
   * Puts other entries in place of a draft's as somebody saw it.
   * @throws Problem DRAFT_CHANGED if it is another by now, DRAFT_UNKNOWN, and as evaluating does
   */
  async replace(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    draft: DraftEntity,
    by: Actor,
    seen: number,
    entries: readonly DraftEntry[],
  ): Promise<ChangedDraft> {
    if (draft.revision !== seen) throw changedDraft();
    return this.keep(workspace, snapshot, draft, by, entries);
  }

  /**
   * Changes the entries of a draft whatever they are by now: others may add at the same time.
   * @throws Problem DRAFT_UNKNOWN, and as evaluating does
   */
  async change(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    draft: DraftEntity,
    by: Actor,
    change: (draft: DraftEntity) => readonly DraftEntry[],
  ): Promise<ChangedDraft> {
    let now = draft;
    for (let tries = 1; ; tries++) {
      try {
        return await this.keep(workspace, snapshot, now, by, change(now));
      } catch (error) {
        const isCrossed = error instanceof Problem && error.code === 'DRAFT_CHANGED';
        if (!isCrossed || tries === MOST_TRIES) throw error;
        now = await this.drafts.byId(workspace, draft.id);
      }
    }
  }

  /** Adds edits at the end. @throws as `change` does */
  add(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    draft: DraftEntity,
    by: Actor,
    edits: (draft: DraftEntity) => readonly Edit[],
  ): Promise<ChangedDraft> {
    return this.change(workspace, snapshot, draft, by, (now) => [
      ...now.entries,
      ...edits(now).map((edit) => ({ edit, isOut: false })),
    ]);
  }

  private async keep(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    draft: DraftEntity,
    by: Actor,
    sent: readonly DraftEntry[],
  ): Promise<ChangedDraft> {
    const signed = signedAcceptances(sent, draft.entries, by, snapshot.base.today);
    const entries = await this.takeBacks.workedOut(workspace, signed, draft.entries);
    const evaluated = await this.evaluator.evaluate(workspace, snapshot, editsOf({ entries }));
    return { draft: await this.drafts.setEntries(draft, by, entries), evaluated };
  }
}
