import { Controller, Get, Param, Post, Query } from '@nestjs/common';
import { ApiCreatedResponse, ApiOkResponse, ApiOperation, ApiTags } from '@nestjs/swagger';
import { LOCK_FILE } from '@deep-ledger/core';
import { DraftChanges } from '../drafts/draft-changes.js';
import { DraftSummaryDto } from '../drafts/draft.dto.js';
import { toDraftSummary } from '../drafts/draft.mapper.js';
import { TakeBacks } from '../drafts/take-backs.js';
import { toExplainedChange } from '../lock/lock-change.mapper.js';
import { ApiProblems } from '../problems/api-problems.js';
import { CurrentActor, type Actor } from '../team/actor.js';
import { Needs } from '../team/capability.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { HistoryService, type Comparison, type JournalEntry } from './history.service.js';
import {
  ComparisonDto,
  ComparisonQuery,
  JournalDto,
  JournalEntryDto,
  JournalQuery,
} from './journal.dto.js';
import { Landing } from './landing.service.js';
import { toPost } from './post.mapper.js';

const PAGE = 100;

@ApiTags('journal')
@ApiProblems()
@Needs('read')
@Controller('workspaces/:slug')
export class HistoryController {
  constructor(
    private readonly workspaces: WorkspaceService,
    private readonly snapshots: SnapshotService,
    private readonly drafts: DraftChanges,
    private readonly takeBacks: TakeBacks,
    private readonly history: HistoryService,
    private readonly landing: Landing,
  ) {}

  @Get('journal')
  @ApiOperation({
    operationId: 'readJournal',
    summary: 'Commits that touched manifests or lockfile, posts among them, newest first',
  })
  @ApiOkResponse({ type: JournalDto })
  async journal(@Param('slug') slug: string, @Query() { skip }: JournalQuery): Promise<JournalDto> {
    const workspace = await this.workspaces.lookedAt(slug);
    const { head } = await this.snapshots.read(workspace);
    await this.landing.catchUp(workspace);
    const { entries, hasMore } = await this.history.entries(workspace, head.commit, skip, PAGE);
    return { entries: entries.map(toEntry), hasMore };
  }

  @Get('comparison')
  @ApiOperation({
    operationId: 'compare',
    summary: 'How two commits or branches differ by meaning, and why',
  })
  @ApiOkResponse({ type: ComparisonDto })
  async compare(
    @Param('slug') slug: string,
    @Query() { from, to }: ComparisonQuery,
  ): Promise<ComparisonDto> {
    const workspace = await this.workspaces.bySlug(slug);
    await this.snapshots.read(workspace);
    return toComparison(await this.history.compare(workspace, from ?? null, to));
  }

  @Post('journal/:commit/reversal')
  @Needs('draft')
  @ApiOperation({
    operationId: 'reverse',
    summary: 'Begin a draft that takes a commit back',
  })
  @ApiCreatedResponse({ type: DraftSummaryDto })
  async reverse(
    @Param('slug') slug: string,
    @Param('commit') commit: string,
    @CurrentActor() actor: Actor,
  ): Promise<DraftSummaryDto> {
    const workspace = await this.workspaces.bySlug(slug);
    const snapshot = await this.snapshots.read(workspace);
    const { commit: taken, edit } = await this.takeBacks.of(workspace, commit);
    const name = `take back ${taken.commit.slice(0, 7)}`;
    const { draft } = await this.drafts.begin(workspace, snapshot, { name }, actor, [edit]);
    return toDraftSummary(draft, actor);
  }
}

function toEntry({ commit, subject, author, at, files, post }: JournalEntry): JournalEntryDto {
  return {
    commit,
    subject,
    author,
    at,
    manifests: files.filter((file) => file !== LOCK_FILE).length,
    touchesLock: files.includes(LOCK_FILE),
    post: post === null ? null : toPost(post),
  };
}

function toComparison({
  from,
  to,
  units,
  change,
  lockBefore,
  lockAfter,
}: Comparison): ComparisonDto {
  return {
    from,
    to,
    units: units.map(({ file, was, is }) => ({
      file,
      path: [...(was ?? is)!.path],
      from: was?.source ?? null,
      to: is?.source ?? null,
    })),
    change: change === null ? null : toExplainedChange(change),
    lockBefore,
    lockAfter,
  };
}
