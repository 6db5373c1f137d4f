import { Injectable } from '@nestjs/common';
import {
  type Clearing,
  type FoundFindings,
  type MutedLine,
  mutesOf,
  type TriedRemedy,
} from '@deep-ledger/core';
import { AnswersService } from '../answers/answers.service.js';
import { KnownService } from '../scan/known.service.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** All findings of a snapshot. */
export interface WorkspaceFindings extends FoundFindings {
  readonly muted: ReadonlyMap<string, MutedLine>;
}

@Injectable()
export class FindingsService {
  constructor(
    private readonly known: KnownService,
    private readonly answers: AnswersService,
  ) {}

  /** Has source scanned where that has not been done. */
  async of(entity: WorkspaceEntity, snapshot: Snapshot): Promise<WorkspaceFindings> {
    await this.prepare(entity, snapshot);
    const found = await this.answers.ask<'findings'>(entity, snapshot, { kind: 'findings' });
    const { workspace, today } = snapshot.base;
    return { ...found, muted: mutesOf(workspace, today) };
  }

  /** The best first, tried out by resolving. */
  async remedies(entity: WorkspaceEntity, snapshot: Snapshot): Promise<readonly TriedRemedy[]> {
    await this.prepare(entity, snapshot);
    return this.answers.ask<'remedies'>(entity, snapshot, { kind: 'remedies' });
  }

  /** Resolves some hundred times. */
  close(entity: WorkspaceEntity, snapshot: Snapshot, ticked: readonly string[]): Promise<Clearing> {
    const sorted = [...new Set(ticked)].sort();
    return this.answers.ask<'clearing'>(entity, snapshot, { kind: 'clearing', ticked: sorted });
  }

  /** What findings need beside the files. A worker process that finds them finds this, too: it takes too long here. */
  private async prepare(entity: WorkspaceEntity, snapshot: Snapshot): Promise<void> {
    if (!this.answers.isLarge(snapshot.base)) await this.known.of(entity, snapshot);
  }
}
