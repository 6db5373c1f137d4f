import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Repository } from 'typeorm';
import { Clock } from '../clock.js';
import type { DraftStand } from '../drafts/draft-evaluator.js';
import type { DraftEntity } from '../drafts/draft.entity.js';
import { Problem } from '../problems/problem.js';
import type { AccountActor, Actor } from '../team/actor.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { ApproveDto, NewCommentDto, ReviewDto } from './review.dto.js';
import { ApprovalEntity, CommentEntity } from './review.entity.js';

/** What a second person says of a draft. */
@Injectable()
export class ReviewService {
  constructor(
    @InjectRepository(ApprovalEntity) private readonly approvals: Repository<ApprovalEntity>,
    @InjectRepository(CommentEntity) private readonly comments: Repository<CommentEntity>,
    private readonly clock: Clock,
  ) {}

  async of(
    workspace: WorkspaceEntity,
    draft: DraftEntity,
    stand: DraftStand,
    actor: Actor,
  ): Promise<ReviewDto> {
    const [approvals, comments] = await Promise.all([
      this.approvals.find({ where: { draftId: draft.id }, order: { at: 'ASC' } }),
      this.comments.find({ where: { draftId: draft.id }, order: { at: 'ASC' } }),
    ]);
    return {
      needsApproval: workspace.needsApproval,
      isApproved: !workspace.needsApproval || approvals.some((one) => counts(one, draft, stand)),
      mayApprove: actor.kind === 'account' && !draft.contributors.includes(actor.id),
      approvals: approvals.map((one) => ({
        name: one.name,
        at: one.at.toISOString(),
        isCurrent: counts(one, draft, stand),
        isMine: one.accountId === actor.id,
      })),
      comments: comments.map((one) => {
        const at = draft.entries.findIndex(({ edit }) => isDeepStrictEqual(edit, one.edit));
        return {
          id: one.id,
          name: one.name,
          text: one.text,
          at: one.at.toISOString(),
          entry: at < 0 ? null : at,
          isOfGoneEdit: one.edit !== null && at < 0,
          isMine: one.accountId === actor.id,
        };
      }),
    };
  }

  /** @throws Problem DRAFT_CHANGED, DRAFT_DIFFERS, OWN_DRAFT */
  async approve(
    draft: DraftEntity,
    { head, sum }: DraftStand,
    seen: ApproveDto,
    actor: AccountActor,
  ): Promise<void> {
    if (draft.contributors.includes(actor.id))
      throw new Problem(
        'OWN_DRAFT',
        409,
        'Your own draft',
        'You had a part in this draft; somebody else has to approve it.',
      );
    if (draft.revision !== seen.revision)
      throw new Problem(
        'DRAFT_CHANGED',
        409,
        'The draft was changed',
        'It is another than the one you saw. Look at it again, then approve.',
      );
    if (head !== seen.base || sum !== seen.sum)
      throw new Problem(
        'DRAFT_DIFFERS',
        409,
        'The draft comes out otherwise now',
        'The branch has moved, or the draft leads to another lockfile than the one you saw. Look at it again, then approve.',
      );
    await this.approvals.save({
      draftId: draft.id,
      accountId: actor.id,
      name: actor.name,
      email: actor.email,
      revision: seen.revision,
      baseCommit: seen.base,
      lockSum: seen.sum,
      at: this.clock.now(),
    });
  }

  async withdraw(draft: DraftEntity, actor: AccountActor): Promise<void> {
    await this.approvals.delete({ draftId: draft.id, accountId: actor.id });
  }

  /** @throws Problem EDIT_UNKNOWN */
  async comment(draft: DraftEntity, { text, entry }: NewCommentDto, actor: Actor): Promise<void> {
    const edit = entry === undefined ? null : draft.entries[entry]?.edit;
    if (edit === undefined)
      throw new Problem('EDIT_UNKNOWN', 422, 'No such edit', 'The draft has not that many edits.');
    await this.comments.insert({
      id: randomUUID(),
      draftId: draft.id,
      accountId: actor.kind === 'account' ? actor.id : null,
      name: actor.name,
      edit: edit as object | null,
      text: text.trim(),
      at: this.clock.now(),
    });
  }

  /** One's own. @throws Problem COMMENT_UNKNOWN */
  async removeComment(draft: DraftEntity, id: string, actor: Actor): Promise<void> {
    const { affected } = await this.comments.delete({
      id,
      draftId: draft.id,
      accountId: actor.id,
    });
    if (affected !== 1)
      throw new Problem(
        'COMMENT_UNKNOWN',
        404,
        'No such comment',
        'It is not there, or is not yours.',
      );
  }

  /**
   * The people who approved a draft as it stands.
   * @throws Problem APPROVAL_MISSING where the workspace asks for a second person and none has spoken
   */
  async demand(
    workspace: WorkspaceEntity,
    draft: DraftEntity,
    stand: DraftStand,
  ): Promise<readonly ApprovalEntity[]> {
    const approvals = await this.approvals.find({
      where: { draftId: draft.id },
      order: { at: 'ASC' },
    });
    const counting = approvals.filter((one) => counts(one, draft, stand));
    if (!workspace.needsApproval || counting.length > 0) return counting;
    throw new Problem(
      'APPROVAL_MISSING',
      409,
      'Nobody has approved it',
      approvals.length === 0
        ? 'This workspace asks for a second person’s approval before a post.'
        : 'Since it was approved, the draft, the branch or what the draft leads to has changed; it needs approval again.',
    );
  }
}

/** An approval is of one revision on one head with one lockfile, by somebody who had no part in the draft. */
function counts(
  { accountId, revision, baseCommit, lockSum }: ApprovalEntity,
  draft: DraftEntity,
  { head, sum }: DraftStand,
): boolean {
  return (
    revision === draft.revision &&
    baseCommit === head &&
    lockSum === sum &&
    !draft.contributors.includes(accountId)
  );
}
