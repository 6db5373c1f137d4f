import { Injectable } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import pLimit, { type LimitFunction } from 'p-limit';
import {
  draftBase,
  lockSum,
  placeProblems,
  printLock,
  readWorkspace,
  requiredPackages,
  type WorkspaceReading,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { GitHistory } from '../git/git-history.js';
import { GitService } from '../git/git.service.js';
import { Problem } from '../problems/problem.js';
import {
  registryIncomplete,
  RegistryService,
  type RegistryReading,
} from '../registry/registry.service.js';
import type { Material, Snapshot } from './snapshot.js';
import type { WorkspaceEntity } from './workspace.entity.js';

/** A snapshot this young is served as it is; an older one is compared with the repository first. */
const FRESH_MS = 10_000;

/** Reads workspaces at the head of their branch, and keeps what it read. */
@Injectable()
export class SnapshotService {
  private readonly kept = new LRUCache<string, Snapshot>({ max: 32 });
  private readonly materials = new LRUCache<string, Material>({ max: 4 });
  /** Packages that drafts have asked for, by workspace. */
  private readonly more = new LRUCache<string, ReadonlySet<string>>({ max: 1000 });
  private readonly turns = new LRUCache<string, LimitFunction>({ max: 1000 });

  constructor(
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly registries: RegistryService,
    private readonly clock: Clock,
  ) {}

  /**
   * The workspace at the head of its branch. A repository that does not answer leaves what was read
   * before, with a word about it.
   * @param freshness `now` asks repository and registry whatever the age of what is kept, and insists on an answer
   * @throws Problem REPOSITORY_UNREADABLE, BRANCH_UNKNOWN, FILE_NOT_UTF8
   */
  async read(entity: WorkspaceEntity, freshness: 'kept' | 'now' = 'kept'): Promise<Snapshot> {
    return this.inTurn(entity.id, async () => {
      const kept = this.kept.get(entity.id);
      const now = this.clock.now();
      const age = kept === undefined ? Infinity : now.getTime() - kept.askedAt.getTime();
      if (kept !== undefined && age < FRESH_MS && freshness === 'kept') return kept;
      const trouble = await this.fetch(entity, freshness);
      const built = await this.build(entity, kept);
      const snapshot: Snapshot = {
        ...built,
        readAt: trouble === null ? now : (kept?.readAt ?? now),
        askedAt: now,
        repositoryTrouble: trouble,
      };
      this.kept.set(entity.id, snapshot);
      return snapshot;
    });
  }

  /**
   * What a workspace at a commit, which need not be the head, is worked out from. For processes that work.
   * @throws Problem REPOSITORY_UNREADABLE, POINT_UNKNOWN, FILE_NOT_UTF8, REGISTRY_INCOMPLETE
   */
  material(entity: WorkspaceEntity, commit: string): Promise<Material> {
    return this.inTurn(entity.id, async () => {
      const kept = this.materials.get(entity.id);
      const isSame = kept?.commit === commit;
      if (!isSame) await this.git.fetch(entity.id, entity.address);
      const files = isSame ? kept.files : await this.history.readFiles(entity.id, commit);
      const reading = isSame ? kept.reading : readWorkspace(files, kept?.reading);
      const registry = await this.documents(entity, reading);
      if (registry.unknown.length > 0) throw registryIncomplete(registry);
      const isKnown =
        registry.revision === kept?.registry.revision &&
        [...registry.records.keys()].every((name) => kept.records.has(name));
      const today = this.clock.today();
      // What is the same stays the same object, so that a thread that has it is not sent it again.
      if (isSame && isKnown && kept.today === today) return kept;
      const records = isKnown ? kept.records : registry.records;
      const material = { commit, files, reading, records, registry, today };
      this.materials.set(entity.id, material);
      return material;
    });
  }

  /** From now on the records of these packages are read too, such as a draft adds. */
  alsoRead({ id }: WorkspaceEntity, names: readonly string[]): void {
    this.more.set(id, new Set([...(this.more.get(id) ?? []), ...names]));
  }

  /**
   * The workspace at its head with the records of more packages than it requires, such as a draft adds. They
   * stay known from then on.
   */
  async withPackages(entity: WorkspaceEntity, names: readonly string[]): Promise<Snapshot> {
    this.alsoRead(entity, names);
    return this.read(entity, 'now');
  }

  /** Brings the clone up to date. @returns why that was not possible, where a clone is there already */
  private async fetch(entity: WorkspaceEntity, freshness: 'kept' | 'now'): Promise<string | null> {
    try {
      await this.git.fetch(entity.id, entity.address);
      return null;
    } catch (error) {
      const isOut = error instanceof Problem && error.code === 'REPOSITORY_UNREADABLE';
      const hasClone = (await this.history.head(entity.id, entity.branch)) !== null;
      if (!isOut || freshness === 'now' || !hasClone) throw error;
      return error.detail;
    }
  }

  /** Does one thing after another for each workspace, so that two posts never cross. */
  inTurn<T>(id: string, work: () => Promise<T>): Promise<T> {
    const turn = this.turns.get(id) ?? pLimit(1);
    this.turns.set(id, turn);
    return turn(work);
  }

  /** What is kept is compared with the repository before it is served again. */
  expire(id: string): void {
    const kept = this.kept.get(id);
    if (kept !== undefined) this.kept.set(id, { ...kept, askedAt: new Date(0) });
  }

  forget(id: string): void {
    this.kept.delete(id);
  }

  private async build(
    entity: WorkspaceEntity,
    kept: Snapshot | undefined,
  ): Promise<Omit<Snapshot, 'readAt' | 'askedAt' | 'repositoryTrouble'>> {
    const head = await this.history.head(entity.id, entity.branch);
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
    const today = this.clock.today();
    const isSame = kept?.head.commit === head.commit;
    const files = isSame ? kept.base.files : await this.history.readFiles(entity.id, head.commit);
    const reading = isSame ? kept.base.reading : readWorkspace(files, kept?.base.reading);
    const registry = await this.documents(entity, reading);
    const hasAll = [...registry.records.keys()].every((name) => kept?.base.records.has(name));
    const isKnown = isSame && hasAll && kept.registry.revision === registry.revision;
    if (isKnown && kept.base.today === today) {
      return { ...kept, registry };
    }
    // The same records stay the same object, so that what was worked out from them need not be worked out again.
    const isSameRecords = hasAll && kept?.registry.revision === registry.revision;
    const base = isSameRecords
      ? draftBase(files, kept.base.records, today, reading, kept.base.engine)
      : draftBase(files, registry.records, today, reading);
    const resolution = base.lock?.resolution ?? null;
    return {
      head,
      base,
      problems: placeProblems(files, reading.problems),
      lockSum: resolution === null ? null : lockSum(printLock(resolution)),
      registry,
    };
  }

  private documents(
    { id, registryUrl }: WorkspaceEntity,
    { workspace }: WorkspaceReading,
  ): Promise<RegistryReading> {
    const names =
      workspace === null ? [] : [...requiredPackages(workspace), ...(this.more.get(id) ?? [])];
    return this.registries.read(registryUrl, names);
  }
}
