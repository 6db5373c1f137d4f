import { randomUUID } from 'node:crypto';
import { Injectable } from '@nestjs/common';
import { InjectRepository } from '@nestjs/typeorm';
import type { Repository } from 'typeorm';
import {
  editsWithout,
  evaluateDraft,
  levelEdits,
  parseVersion,
  versionProblemMessage,
  type Edit,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { Problem } from '../problems/problem.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { ChangeDraftDto } from './draft.dto.js';
import { DraftEntity } from './draft.entity.js';
import type { SettledEvaluation } from './draft.mapper.js';

@Injectable()
export class DraftService {
  constructor(
    @InjectRepository(DraftEntity) private readonly drafts: Repository<DraftEntity>,
    private readonly clock: Clock,
  ) {}

  list(workspace: WorkspaceEntity): Promise<DraftEntity[]> {
    return this.drafts.find({
      where: { workspaceId: workspace.id, state: 'open' },
      order: { createdAt: 'ASC' },
    });
  }

  /** @throws Problem DRAFT_UNKNOWN */
  async byId(workspace: WorkspaceEntity, id: string): Promise<DraftEntity> {
    const draft = await this.drafts.findOneBy({ id, workspaceId: workspace.id, state: 'open' });
    if (draft !== null) return draft;
    throw new Problem(
      'DRAFT_UNKNOWN',
      404,
      'No such draft',
      'This draft is not there: it was posted or thrown away.',
    );
  }

  async create(
    workspace: WorkspaceEntity,
    snapshot: Snapshot,
    name: string | undefined,
  ): Promise<DraftEntity> {
    const now = this.clock.now();
    const count = await this.drafts.countBy({ workspaceId: workspace.id });
    const draft = this.drafts.create({
      id: randomUUID(),
      workspaceId: workspace.id,
      name: name ?? `Draft ${count + 1}`,
      baseCommit: snapshot.head.commit,
      edits: [],
      state: 'open',
      createdAt: now,
      updatedAt: now,
    });
    return this.drafts.save(draft);
  }

  async change(draft: DraftEntity, { name, base }: ChangeDraftDto): Promise<DraftEntity> {
    draft.name = name ?? draft.name;
    draft.baseCommit = base ?? draft.baseCommit;
    return this.save(draft);
  }

  async setEdits(draft: DraftEntity, edits: readonly Edit[]): Promise<DraftEntity> {
    draft.edits = [...edits];
    return this.save(draft);
  }

  /** Puts the edits that level a package at a version in place of all edits about that package. */
  async level(
    draft: DraftEntity,
    snapshot: Snapshot,
    name: string,
    version: string,
  ): Promise<DraftEntity> {
    const { workspace, today, records } = snapshot.base;
    const parsed = parseVersion(version);
    if (!parsed.ok)
      throw new Problem(
        'VERSION_INVALID',
        422,
        'Not a version',
        `"${version}": ${versionProblemMessage(parsed.problem)}.`,
      );
    if (workspace === null || !records.get(name)?.releases.some(({ text }) => text === version)) {
      throw new Problem(
        'RELEASE_UNKNOWN',
        422,
        'No such release',
        `The registry has no release ${name} ${version}.`,
      );
    }
    return this.setEdits(draft, [
      ...editsWithout(draft.edits, name),
      ...levelEdits(workspace, name, version, today),
    ]);
  }

  /** Takes a draft out of sight; `restore` brings it back. */
  async throwAway(draft: DraftEntity): Promise<void> {
    draft.state = 'thrown-away';
    await this.save(draft);
  }

  /** @throws Problem DRAFT_UNKNOWN */
  async restore(workspace: WorkspaceEntity, id: string): Promise<DraftEntity> {
    await this.drafts.update(
      { id, workspaceId: workspace.id, state: 'thrown-away' },
      { state: 'open' },
    );
    return this.byId(workspace, id);
  }

  /**
   * The outcome of a draft at the head of the branch.
   * @throws Problem REGISTRY_INCOMPLETE if packages are unknown that it needs
   */
  evaluate(snapshot: Snapshot, edits: readonly Edit[]): SettledEvaluation {
    const { base, registry } = snapshot;
    if (registry.unknown.length > 0) {
      throw new Problem(
        'REGISTRY_INCOMPLETE',
        503,
        'The registry could not be read',
        `Nothing can be resolved while ${registry.unknown.join(', ')} cannot be read from the registry. ${registry.messages.join(' ')}`,
      );
    }
    const evaluation = evaluateDraft(base, edits);
    if (evaluation.kind !== 'ask') return evaluation;
    throw new Problem(
      'REGISTRY_INCOMPLETE',
      503,
      'The registry could not be read',
      `The documents of ${evaluation.names.join(', ')} are not loaded yet. Read the workspace anew.`,
    );
  }

  private save(draft: DraftEntity): Promise<DraftEntity> {
    draft.updatedAt = this.clock.now();
    return this.drafts.save(draft);
  }
}
