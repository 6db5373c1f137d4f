import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import pLimit, { type LimitFunction } from 'p-limit';
import {
  draftBase,
  lockSum,
  placeProblem,
  printLock,
  readWorkspace,
  requiredPackages,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { GitService } from '../git/git.service.js';
import { Problem } from '../problems/problem.js';
import { RegistryService } from '../registry/registry.service.js';
import type { Snapshot } from './snapshot.js';
import type { WorkspaceEntity } from './workspace.entity.js';

/** A snapshot this young is served as it is; an older one is compared with the repository first. */
const FRESH_MS = 10_000;

/** Reads workspaces at the head of their branch, and keeps what it read. */
@Injectable()
export class SnapshotService {
  private readonly kept = new LRUCache<string, Snapshot>({ max: 32 });
  private readonly turns = new LRUCache<string, LimitFunction>({ max: 1000 });

  constructor(
    private readonly git: GitService,
    private readonly registries: RegistryService,
    private readonly clock: Clock,
  ) {}

  /**
   * The workspace at the head of its branch.
   * @param freshness `now` asks repository and registry whatever the age of what is kept
   * @throws Problem REPOSITORY_UNREADABLE, BRANCH_UNKNOWN, FILE_NOT_UTF8
   */
  async read(entity: WorkspaceEntity, freshness: 'kept' | 'now' = 'kept'): Promise<Snapshot> {
    return this.inTurn(entity.id, async () => {
      const kept = this.kept.get(entity.id);
      const age =
        kept === undefined ? Infinity : this.clock.now().getTime() - kept.readAt.getTime();
      if (kept !== undefined && age < FRESH_MS && freshness === 'kept') return kept;
      await this.git.fetch(entity.id, entity.address);
      const snapshot = await this.build(entity, kept);
      this.kept.set(entity.id, snapshot);
      return snapshot;
    });
  }

  /** Does one thing after another for each workspace, so that two posts never cross. */
  inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    const turn = this.turns.get(id) ?? pLimit(1);
    this.turns.set(id, turn);
    return turn(work);
  }

  forget(id: string): void {
    this.kept.delete(id);
  }

  private async build(entity: WorkspaceEntity, kept: Snapshot | undefined): Promise<Snapshot> {
    const head = await this.git.head(entity.id, entity.branch);
    if (head === null) {
      const branches = await this.git.branches(entity.id);
      const known =
        branches.length === 0
          ? 'It has no branches yet.'
          : `It has ${branches.slice(0, 8).join(', ')}.`;
      throw new Problem(
        'BRANCH_UNKNOWN',
        422,
        'No such branch',
        `${entity.address} has no branch ${entity.branch}. ${known}`,
      );
    }
    const readAt = this.clock.now();
    const today = this.clock.today();
    const isSame = kept?.head.commit === head.commit;
    const files = isSame ? kept.base.files : await this.git.readFiles(entity.id, head.commit);
    const reading = isSame ? kept.base.reading : readWorkspace(files, kept?.base.reading);
    const { workspace } = reading;
    const registry = await this.registries.read(
      entity.registryUrl,
      workspace === null ? [] : requiredPackages(workspace),
    );
    if (isSame && kept.registry.revision === registry.revision && kept.base.today === today) {
      return { ...kept, readAt, registry };
    }
    const base = draftBase(files, registry.records, today, reading);
    const resolution = base.lock?.resolution ?? null;
    return {
      head,
      readAt,
      base,
      problems: reading.problems.map((problem) => placeProblem(files, problem)),
      lockSum: resolution === null ? null : lockSum(printLock(resolution)),
      registry,
    };
  }
}
