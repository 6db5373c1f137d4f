import { Injectable } from '@nestjs/common';
import {
  documentPath,
  isBlocking,
  placeProblems,
  proposeRegistry,
  readShapes,
  ROOT_FILE,
  rootText,
  SHAPES_FILE,
  type RegistryForm,
  type WorkspaceFiles,
} from '@deep-ledger/core';
import { DraftService } from '../drafts/draft.service.js';
import { GitFiles } from '../git/git-files.js';
import { Landing } from '../journal/landing.service.js';
import { Problem } from '../problems/problem.js';
import { WorkspaceReader } from '../workers/workspace-reader.js';
import { SnapshotService } from '../workspaces/snapshot.service.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { WorkspaceService } from '../workspaces/workspace.service.js';
import { BringInThread } from './bring-in-thread.js';
import type { BringInAnswer } from './bring-in.worker.js';
import type { PrepareDto, ReadAskedDto, TryDto } from './bring-in.dto.js';

const MOST_DOCUMENT = 20_000;

type Proposed = Extract<BringInAnswer, { kind: 'proposal' }>['proposal'];
type Read = Extract<BringInAnswer, { kind: 'read' }>['found'];

/** What a registry said of a package, and what can be made of it. */
export interface TriedDocument {
  readonly address: string;
  readonly document: string | null;
  readonly releases: number | null;
  readonly newest: string | null;
  readonly needs: number;
  readonly trouble: string | null;
  readonly proposed: RegistryForm | null;
}

/** Brings repositories in that have none of our files. Nothing is written into them before a draft is posted. */
@Injectable()
export class BringInService {
  constructor(
    private readonly snapshots: SnapshotService,
    private readonly workspaces: WorkspaceService,
    private readonly drafts: DraftService,
    private readonly landing: Landing,
    private readonly files: GitFiles,
    private readonly thread: BringInThread,
    private readonly reader: WorkspaceReader,
  ) {}

  /** What shapes its files seem to have. @throws Problem ALREADY_A_WORKSPACE */
  async proposal(entity: WorkspaceEntity) {
    const commit = await this.commitWithout(entity);
    const { answer, looked } = await this.thread.ask(entity.id, commit, null);
    return { commit, looked, proposal: (answer as { readonly proposal: Proposed }).proposal };
  }

  /** What these shapes read, over all its files. @throws Problem ALREADY_A_WORKSPACE */
  async reading(
    entity: WorkspaceEntity,
    { name, registries, shapes, sample }: ReadAskedDto,
  ): Promise<Read> {
    const commit = await this.commitWithout(entity);
    const own: WorkspaceFiles = new Map([
      [ROOT_FILE, rootText(name, registries)],
      [SHAPES_FILE, shapes],
    ]);
    const { answer } = await this.thread.ask(entity.id, commit, { own, sample: sample ?? null });
    return (answer as { readonly found: Read }).found;
  }

  /**
   * From now on the repository is read with these files, until they are posted. Its registries have to answer.
   * @throws Problem ALREADY_A_WORKSPACE, SHAPES_INVALID, and what says what is wrong with a registry
   */
  prepare(
    entity: WorkspaceEntity,
    { name, shapes, registries }: PrepareDto,
  ): Promise<WorkspaceEntity> {
    return this.alone(entity, async (now) => {
      const commit = await this.commitWithout(now);
      const root = rootText(name, registries);
      const added = new Map([
        [ROOT_FILE, root],
        [SHAPES_FILE, shapes],
      ]);
      const { files } = await this.files.readFilesWith(now.id, commit, added);
      const { workspace, problems } = await this.reader.read(files);
      const own = problems.filter((one) => added.has(one.file) && isBlocking(one));
      if (workspace === null || own.length > 0) {
        const placed = placeProblems(files, own);
        throw new Problem(
          'SHAPES_INVALID',
          422,
          'These files cannot be used',
          placed
            .map(({ message, place }) => `${place.file}:${place.line}:${place.column}: ${message}`)
            .join(' '),
          placed,
        );
      }
      const changed = await this.workspaces.prepare(now, { root, shapes }, workspace, registries);
      // People who have looked at a draft have seen it with other files.
      await this.drafts.touchAll(now);
      return changed;
    });
  }

  /** Forgets what was prepared. */
  forget(entity: WorkspaceEntity): Promise<WorkspaceEntity> {
    return this.alone(entity, async (now) => {
      await this.drafts.touchAll(now);
      return this.workspaces.change(now, { bringIn: null });
    });
  }

  /**
   * Asks a registry for a package, and reads what it says by the shape that the text has for it.
   * @throws Problem where it does not answer
   */
  async tryRegistry(entity: WorkspaceEntity, asked: TryDto): Promise<TriedDocument> {
    const shape = readShapes(asked.shapes).shapes?.registries.get(asked.name);
    const template = shape?.document ?? asked.path ?? null;
    const path =
      template === null
        ? `/packages/${encodeURIComponent(asked.package)}`
        : documentPath({ document: template }, asked.package);
    const { address, raw, record, trouble } = await this.workspaces.tryDocument(
      entity,
      asked,
      path,
      shape,
      asked.versions,
    );
    const form =
      record === null && shape === undefined && raw !== null
        ? proposeRegistry(asked.name, raw, template ?? '/packages/{name}')
        : null;
    const last = record?.releases.at(-1);
    return {
      address,
      document: raw === null ? null : JSON.stringify(raw, null, 2).slice(0, MOST_DOCUMENT + 1),
      releases: record?.releases.length ?? null,
      newest: last?.text ?? null,
      needs: last?.needs.length ?? 0,
      trouble,
      proposed: form,
    };
  }

  /** Posts and other changes of the same kind wait meanwhile; the workspace is as it is by then. */
  private alone(
    entity: WorkspaceEntity,
    work: (now: WorkspaceEntity) => Promise<WorkspaceEntity>,
  ): Promise<WorkspaceEntity> {
    return this.landing.alone(entity, async () => work(await this.workspaces.bySlug(entity.slug)));
  }

  private async commitWithout(entity: WorkspaceEntity): Promise<string> {
    const { head, base } = await this.snapshots.read(entity);
    const isThere = (file: string): boolean => base.files.has(file) && !base.unwritten.has(file);
    const own = [ROOT_FILE, SHAPES_FILE].filter(isThere);
    if (own.length === 0) return head.commit;
    throw new Problem(
      'ALREADY_A_WORKSPACE',
      409,
      'This is a workspace',
      `${own.join(' and ')} ${own.length === 1 ? 'is' : 'are'} in the repository already. Change the files there.`,
    );
  }
}
