import { setImmediate } from 'node:timers/promises';
import { Inject, Injectable, type OnModuleDestroy } from '@nestjs/common';
import { LRUCache } from 'lru-cache';
import { Subject, type Observable } from 'rxjs';
import {
  draftBaseSteps,
  lockSum,
  placeProblems,
  printLock,
  requiredPackages,
  type DraftBase,
  type PackageRecords,
  type Resolution,
  type Workspace,
  type WorkspaceReading,
} from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { endsWithin } from '../ends-within.js';
import { GitFiles } from '../git/git-files.js';
import { GitHistory } from '../git/git-history.js';
import { GitService } from '../git/git.service.js';
import { Problem } from '../problems/problem.js';
import {
  registryIncomplete,
  RegistryService,
  sourceOf,
  type RegistryReading,
} from '../registry/registry.service.js';
import { sourcesOf } from '../registry/sources-of.js';
import { SETTINGS, type Settings } from '../settings.js';
import { Turns } from '../turns.js';
import { WorkspaceReader } from '../workers/workspace-reader.js';
import { filesToAdd } from './files-to-add.js';
import type { Material, Snapshot } from './snapshot.js';
import type { WorkspaceEntity } from './workspace.entity.js';

/** A snapshot this young is served as it is; an older one is served too, and looked after meanwhile. */
const FRESH_MS = 10_000;
/** How long a caller waits for a look at the repository: most answer within it, and one that hangs holds up nobody. */
const PATIENCE_MS = 300;
/** The same where it is known that the branch has moved. */
const PATIENCE_FOR_MOVED_MS = 5_000;
/** Names of packages beside those required that are asked for again and again, by workspace. */
const MOST_NAMES = 500;

/** A look at repository and registry that goes on in the background. */
interface Look {
  readonly done: Promise<void>;
  /** Somebody has waited for it in vain already. */
  isLate: boolean;
}

/** Reads workspaces at the head of their branch, and keeps what it read. */
@Injectable()
export class SnapshotService implements OnModuleDestroy {
  private readonly kept: LRUCache<string, Snapshot>;
  private readonly materials = new LRUCache<string, Material>({ max: 4 });
  /** Packages that drafts have asked for, by workspace. */
  private readonly more = new LRUCache<string, LRUCache<string, true>>({ max: 1000 });
  private readonly turns = new Turns();
  private readonly looks = new Map<string, Look>();
  /** Why the last look gave no snapshot. */
  private readonly failures = new LRUCache<string, Error>({ max: 1000, ttl: FRESH_MS });
  private readonly changed = new Subject<string>();

  constructor(
    private readonly git: GitService,
    private readonly history: GitHistory,
    private readonly files: GitFiles,
    private readonly registries: RegistryService,
    private readonly reader: WorkspaceReader,
    private readonly clock: Clock,
    @Inject(SETTINGS) { memoryBytes }: Settings,
  ) {
    this.kept = new LRUCache({
      maxSize: memoryBytes,
      // A snapshot that is larger than the whole limit is kept alone.
      sizeCalculation: (snapshot) => Math.min(bytesOf(snapshot), memoryBytes),
    });
  }

  onModuleDestroy(): void {
    this.changed.complete();
  }

  /** Ids of workspaces whose head or registry turned out to be others than before. */
  get changes(): Observable<string> {
    return this.changed;
  }

  /**
   * The workspace at the head of its branch. Serves at once what was read before. Where that is old, a caller waits a
   * moment for a look at the repository, which then goes on by itself. Where the repository does not answer, what was
   * read before stays, with a word about it.
   * @param freshness `now` asks repository and registry whatever the age of what is kept, and insists on an answer
   * @throws Problem REPOSITORY_UNREADABLE, BRANCH_UNKNOWN, FILE_NOT_UTF8, FILE_TOO_LARGE
   */
  async read(entity: WorkspaceEntity, freshness: 'kept' | 'now' = 'kept'): Promise<Snapshot> {
    const { id } = entity;
    const kept = this.kept.get(id);
    const isOf =
      kept?.point === pointOf(entity, kept?.head.commit) &&
      kept.places === placesOf(entity, kept.base.workspace);
    if (freshness === 'now' || kept === undefined || !isOf) return this.lookNow(entity, freshness);
    const age = this.clock.now().getTime() - kept.askedAt.getTime();
    if (age >= FRESH_MS) {
      const look = this.looks.get(id) ?? this.look(entity);
      const patience = kept.askedAt.getTime() === 0 ? PATIENCE_FOR_MOVED_MS : PATIENCE_MS;
      if (!look.isLate) look.isLate = !(await endsWithin(look.done, patience));
    }
    const failure = this.failures.get(id);
    if (failure !== undefined) throw failure;
    return this.kept.get(id) ?? kept;
  }

  private look(entity: WorkspaceEntity): Look {
    const { id } = entity;
    const done = this.lookNow(entity, 'kept').then(
      () => undefined,
      (error: unknown) => void this.failures.set(id, error as Error),
    );
    const look: Look = { done: done.finally(() => this.looks.delete(id)), isLate: false };
    this.looks.set(id, look);
    return look;
  }

  /** @param names of packages to read beside those that are required */
  private lookNow(
    entity: WorkspaceEntity,
    freshness: 'kept' | 'now',
    names: readonly string[] = [],
  ): Promise<Snapshot> {
    const { id } = entity;
    return this.inTurn(id, async () => {
      const kept = this.kept.get(id);
      const trouble = await this.fetch(entity, freshness);
      const now = this.clock.now();
      const built = await this.build(entity, kept, names);
      const snapshot: Snapshot = {
        ...built,
        readAt: trouble === null ? now : (kept?.readAt ?? now),
        askedAt: now,
        repositoryTrouble: trouble,
      };
      this.kept.set(id, snapshot);
      this.failures.delete(id);
      const isOther =
        kept !== undefined &&
        (kept.point !== built.point || kept.registry.fingerprint !== built.registry.fingerprint);
      if (isOther) this.changed.next(id);
      return snapshot;
    });
  }

  /**
   * What a workspace at a commit, which need not be the head, is worked out from. For processes that work.
   * @throws Problem REPOSITORY_UNREADABLE, POINT_UNKNOWN, FILE_NOT_UTF8, REGISTRY_INCOMPLETE
   */
  material(entity: WorkspaceEntity, commit: string, signal: AbortSignal): Promise<Material> {
    return this.inTurn(entity.id, async () => {
      const kept = this.materials.get(entity.id);
      const point = pointOf(entity, commit);
      const isSame = kept?.point === point;
      if (!isSame && !(await this.history.has(entity.id, commit)))
        await this.git.fetch(entity, signal);
      const { files, unwritten } = isSame ? kept : await this.filesAt(entity, commit);
      const reading = isSame ? kept.reading : await this.reader.read(files, kept?.reading);
      const registry = await this.documents(entity, reading, []);
      if (registry.unknown.length > 0) throw registryIncomplete(registry);
      const known = withRecords(kept, this.materials.values(), registry.records);
      const records = known?.records ?? registry.records;
      const today = this.clock.today();
      // Equal parts stay the same objects, so that a thread that has them is not sent them again.
      if (isSame && kept.records === records && kept.today === today) return kept;
      const material = { commit, point, files, unwritten, reading, records, registry, today };
      this.materials.set(entity.id, material);
      return material;
    });
  }

  /**
   * From now on the records of these packages, such as a draft adds, are read too. Of many names the last ones are
   * kept.
   */
  alsoRead({ id }: WorkspaceEntity, names: readonly string[]): void {
    const more = this.more.get(id) ?? new LRUCache<string, true>({ max: MOST_NAMES });
    for (const name of names) more.set(name, true);
    this.more.set(id, more);
  }

  /** The workspace at its head with the records of more packages than it requires, such as a draft adds. */
  async withPackages(entity: WorkspaceEntity, names: readonly string[]): Promise<Snapshot> {
    this.alsoRead(entity, names);
    return this.lookNow(entity, 'kept', names);
  }

  /** Brings the clone up to date. @returns why that was not possible, where a clone is there already */
  private async fetch(entity: WorkspaceEntity, freshness: 'kept' | 'now'): Promise<string | null> {
    try {
      await this.git.fetch(entity);
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
    return this.turns.take(id, work);
  }

  /** From now on the kept snapshot is compared with the repository before it is served again. */
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
    names: readonly string[],
  ): Promise<Omit<Snapshot, 'readAt' | 'askedAt' | 'repositoryTrouble'>> {
    const head = await this.history.head(entity.id, entity.branch);
    if (head === null) {
      const branches = (await this.history.heads(entity.id)).map(({ name }) => name);
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
    const point = pointOf(entity, head.commit);
    const isSame = kept?.point === point;
    const { files, unwritten } = isSame ? kept.base : await this.filesAt(entity, head.commit);
    const reading = isSame ? kept.base.reading : await this.reader.read(files, kept?.base.reading);
    const registry = await this.documents(entity, reading, names);
    // The same records stay the same object, so that what was worked out from them need not be worked out again.
    const bases = Array.from(this.kept.values(), ({ base }) => base);
    const known = withRecords(kept?.base, bases, registry.records);
    const places = placesOf(entity, reading.workspace);
    if (isSame && kept.base === known && known.today === today)
      return { ...kept, places, registry };
    const records = known?.records ?? registry.records;
    const before = kept?.base ?? known;
    const steps = draftBaseSteps(files, records, today, reading, known?.engine, before, unwritten);
    const base = await attending(steps);
    const resolution = base.lock?.resolution ?? null;
    const isSameLock = kept !== undefined && kept.base.lock?.resolution === resolution;
    return {
      head,
      point,
      places,
      base,
      problems: placeProblems(files, reading.problems),
      lockSum: isSameLock ? kept.lockSum : sumOf(resolution),
      registry,
    };
  }

  private filesAt(
    entity: WorkspaceEntity,
    commit: string,
  ): Promise<Pick<DraftBase, 'files' | 'unwritten'>> {
    return this.files.readFilesWith(entity.id, commit, filesToAdd(entity));
  }

  private async documents(
    { id, ...source }: WorkspaceEntity,
    { workspace }: WorkspaceReading,
    names: readonly string[],
  ): Promise<RegistryReading> {
    const required = workspace === null ? [] : requiredPackages(workspace);
    const more = workspace === null ? [] : [...(this.more.get(id)?.keys() ?? []), ...names];
    const sources = sourcesOf(source, workspace);
    const found = await this.registries.read(sources, required, more);
    // A package that only drafts ask for, and that cannot be read, stands against those drafts and nothing else.
    const isHeldUp = found.unknown.length > 0 && more.length > 0;
    return isHeldUp ? this.registries.read(sources, required) : found;
  }
}

/** Does work in steps; others are answered before each, and after the last. */
async function attending<T>(steps: Iterator<void, T>): Promise<T> {
  for (;;) {
    await setImmediate();
    const step = steps.next();
    if (step.done !== true) continue;
    await setImmediate();
    return step.value;
  }
}

/** What files are read from: a commit, with the files that are added to it. */
function pointOf({ bringIn }: WorkspaceEntity, commit = ''): string {
  return bringIn === null ? commit : `${commit} ${bringIn.root} ${bringIn.shapes}`;
}

/** Where the registries of a workspace as it was read are, and what lets one in. */
function placesOf(entity: WorkspaceEntity, workspace: Workspace | null): string {
  const sources = sourcesOf(entity, workspace);
  const places = sources.registries.map(({ name }) => {
    const source = sourceOf(sources, name);
    return [name, source?.url, source?.credentials];
  });
  return JSON.stringify(places);
}

/** Measured at sizes M and L: what is read of a text, and of a release with what the engine makes of it. */
const BYTES_OF_CHARACTER = 6;
const BYTES_OF_RELEASE = 3_000;

/** About how much memory a snapshot takes with its records and its engine. O(files + packages). */
function bytesOf({ base: { files, records } }: Snapshot): number {
  let [characters, releases] = [1, 0];
  for (const text of files.values()) characters += text.length;
  for (const record of records.values()) releases += record?.releases.length ?? 0;
  return characters * BYTES_OF_CHARACTER + releases * BYTES_OF_RELEASE;
}

/** Of the lockfile's canonical text. */
function sumOf(resolution: Resolution | null): string | null {
  return resolution === null ? null : lockSum(printLock(resolution));
}

/**
 * Whose records these are: a workspace's own, which may have more, or those of another that has just these, such as another
 * branch of the same repository. What was worked out from them is gone on from.
 */
function withRecords<T extends { readonly records: PackageRecords }>(
  own: T | undefined,
  others: Iterable<T>,
  read: PackageRecords,
): T | undefined {
  if (own !== undefined && hasSame(own.records, read)) return own;
  for (const one of others)
    if (one.records.size === read.size && hasSame(one.records, read)) return one;
  return undefined;
}

/** Are these records among those, each the same? */
function hasSame(those: PackageRecords, these: PackageRecords): boolean {
  for (const [name, record] of these) if (those.get(name) !== record) return false;
  return true;
}
