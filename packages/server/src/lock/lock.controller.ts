import { Controller, Get, Param, Post, Res } from '@nestjs/common';
import { ApiCreatedResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import type { Response } from 'express';
import { DraftChanges } from '../drafts/draft-changes.js';
import { DraftSummaryDto } from '../drafts/draft.dto.js';
import { toDraftSummary } from '../drafts/draft.mapper.js';
import { toJob } from '../jobs/jobs.mapper.js';
import { KeptAnswers } from '../kept-answers.js';
import { ApiProblems } from '../problems/api-problems.js';
import { Problem } from '../problems/problem.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import type { LockCommitEntity } from './lock-commit.entity.js';
import { LockHistoryService, type LockHistory } from './lock-history.service.js';
import { CopyDetailDto, LockDto, type LockCommitDto } from './lock.dto.js';
import { LockService } from './lock.service.js';

@ApiTags('lockfile')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug/lock')
export class LockController {
  private readonly answers = new KeptAnswers();

  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly histories: LockHistoryService,
    private readonly locks: LockService,
    private readonly changes: DraftChanges,
  ) {}

  @Get()
  @ApiOperation({
    operationId: 'readLock',
    summary: 'The lockfile: its state, its copies and since when, and what each target gets',
  })
  @ApiOkResponse({ type: LockDto })
  async read(@Param('slug') slug: string, @Res() response: Response): Promise<void> {
    const entity = await this.workspaces.lookedAt(slug);
    const snapshot = await this.snapshots.read(entity);
    const history = await this.histories.of(entity, snapshot.head.commit);
    const answer = (): LockDto => this.toLock(snapshot, history);
    // While its history is worked out there is more to say each time.
    if (history.isDone) await this.answers.send(response, snapshot.base, 'lock', answer);
    else response.json(answer());
  }

  private toLock({ base, head, lockSum }: Snapshot, history: LockHistory): LockDto {
    const copies = this.locks.copies(base, history);
    return {
      commit: head.commit,
      state: base.lock?.state ?? 'broken',
      sum: lockSum,
      reasons: [...(base.lock?.reasons ?? [])],
      bytes: copies.reduce((sum, { bytes }) => sum + bytes, 0),
      copies,
      targets: [...this.locks.ofTargets(base)],
      commits: history.commits.map(toLockCommit),
      job: history.job === null ? null : toJob(history.job),
    };
  }

  @Get('copies/:name/:version')
  @ApiOperation({
    operationId: 'readCopy',
    summary: 'One copy as the lockfile has it, and who demands it',
  })
  @ApiOkResponse({ type: CopyDetailDto })
  async copy(
    @Param('slug') slug: string,
    @Param('name') name: string,
    @Param('version') version: string,
  ): Promise<CopyDetailDto> {
    const { base } = await this.snapshots.read(await this.workspaces.bySlug(slug));
    return this.locks.detail(base, name, version);
  }

  @Post('repair')
  @Needs('draft')
  @ApiOperation({
    operationId: 'repairLockfile',
    summary: 'Begin a draft that makes the lockfile consistent with the fewest changes',
  })
  @ApiCreatedResponse({ type: DraftSummaryDto })
  async repair(
    @Param('slug') slug: string,
    @CurrentActor() actor: Actor,
  ): Promise<DraftSummaryDto> {
    const entity = await this.workspaces.bySlug(slug);
    const snapshot = await this.snapshots.read(entity);
    if (snapshot.base.lock?.state === 'consistent')
      throw new Problem(
        'NOTHING_TO_REPAIR',
        409,
        'Nothing to repair',
        'The lockfile is consistent: it answers every requirement as it is written.',
      );
    const name = 'repair the lockfile';
    const { draft } = await this.changes.begin(entity, snapshot, { name }, actor, [
      { kind: 'bring-up' },
    ]);
    return toDraftSummary(draft, actor);
  }
}

function toLockCommit(row: LockCommitEntity): LockCommitDto {
  const { commit, subject, author, at, sum, copies, entered, left } = row;
  return {
    commit,
    subject,
    author,
    at: at.toISOString(),
    sum,
    copies,
    entered: entered.length,
    left: left.length,
  };
}
