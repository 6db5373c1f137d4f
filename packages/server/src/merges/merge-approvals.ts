import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import { Not, type Repository } from 'typeorm';
import { Clock } from '../clock.js';
import { Problem } from '../problems/problem.js';
import type { AccountActor, Actor } from '../team/actor.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { MergeApprovalEntity } from './merge-approval.entity.js';
import type { MergeReviewDto } from './merge.dto.js';

/** The result of merging two commits: what is approved. */
export interface MergeResult {
  readonly ours: string;
  readonly theirs: string;
  readonly result: string;
}

/** What second persons say of merges. An approval is of a result, so it does not matter who had decided on it. */
@Injectable()
export class MergeApprovals {
  constructor(
    @InjectRepository(MergeApprovalEntity)
    private readonly approvals: Repository<MergeApprovalEntity>,
    private readonly clock: Clock,
  ) {}

  async of(
    { id, needsApproval }: WorkspaceEntity,
    { ours, theirs, result }: MergeResult,
    actor: Actor,
  ): Promise<MergeReviewDto> {
    const found = await this.approvals.find({
      where: { workspaceId: id, ours, theirs, result },
      order: { at: 'ASC' },
    });
    return {
      needsApproval,
      isApproved: !needsApproval || found.some(({ accountId }) => accountId !== actor.id),
      approvals: found.map(({ accountId, name, at }) => ({
        name,
        at: at.toISOString(),
        isMine: accountId === actor.id,
      })),
    };
  }

  async approve(
    { id }: WorkspaceEntity,
    { ours, theirs, result }: MergeResult,
    { id: accountId, name, email }: AccountActor,
  ): Promise<void> {
    const at = this.clock.now();
    await this.approvals.save({
      workspaceId: id,
      accountId,
      name,
      email,
      ours,
      theirs,
      result,
      at,
    });
  }

  /**
   * Those who approved a result, whoever posts it left out.
   * @throws Problem APPROVAL_MISSING where the workspace asks for a second person and none has spoken
   */
  async demand(
    { id, needsApproval }: WorkspaceEntity,
    { ours, theirs, result }: MergeResult,
    poster: AccountActor,
  ): Promise<readonly MergeApprovalEntity[]> {
    const found = await this.approvals.find({
      where: { workspaceId: id, ours, theirs, result, accountId: Not(poster.id) },
      order: { at: 'ASC' },
    });
    if (needsApproval && found.length === 0)
      throw new Problem(
        'APPROVAL_MISSING',
        409,
        'Nobody else has approved it',
        'This workspace asks for a second person’s approval before a post, and nobody but you has approved this result. Send them the address of this page; it holds what was decided.',
      );
    return found;
  }
}
