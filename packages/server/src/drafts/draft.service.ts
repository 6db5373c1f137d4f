import { randomUUID } from 'node:crypto';
import { isDeepStrictEqual } from 'node:util';
import { Injectable } from '@nestjs/common';
import { InjectDataSource, InjectRepository } from '@nestjs/typeorm';
import {
  Between,
  LessThan,
  MoreThan,
  Raw,
  type DataSource,
  type EntityManager,
  type Repository,
} from 'typeorm';
import { type Edit } from '@deep-ledger/core';
import { Clock } from '../clock.js';
import { Problem } from '../problems/problem.js';
import { orderAuthor } from './order-author.js';
import { accountOf, authorOf, type Actor } from '../team/actor.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import type { ChangeDraftDto, NewDraftDto } from './draft.dto.js';
import { DraftEntity, DraftStateEntity, editsOf, type DraftEntry } from './draft.entity.js';

/** How many steps can be undone. */
const MOST_STATES = 200;

/** Drafts in the database. The evaluator works out their effect. */
@Injectable()
export class DraftService {
  constructor(
    @InjectRepository(DraftEntity) private readonly drafts: Repository<DraftEntity>,
    @InjectRepository(DraftStateEntity) private readonly states: Repository<DraftStateEntity>,
    @InjectDataSource() private readonly database: DataSource,
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
    throw unknownDraft();
  }

  /** @param edits that it begins with */
  async create(
    workspace: WorkspaceEntity,
    baseCommit: string,
    { name }: NewDraftDto,
    by: Actor,
    edits: readonly Edit[] = [],
  ): Promise<DraftEntity> {
    const count = await this.drafts.countBy({ workspaceId: workspace.id });
    return this.insert(workspace, baseCommit, edits, by.id, {
      name: name ?? `Draft ${count + 1}`,
      author: by.name,
      authorEmail: authorOf(by).email,
      standingOrder: null,
      contributors: [accountOf(by)],
    });
  }

  /** A draft that a standing order begins: no person had a part in it. */
  createFor(
    workspace: WorkspaceEntity,
    baseCommit: string,
    order: string,
    edits: readonly Edit[],
  ): Promise<DraftEntity> {
    const { name: author, email: authorEmail } = orderAuthor(order);
    return this.insert(workspace, baseCommit, edits, author, {
      name: order,
      author,
      authorEmail,
      standingOrder: order,
      contributors: [],
    });
  }

  /** The open draft of a standing order in which nobody had a part; null: there is none. */
  untakenOf({ id: workspaceId }: WorkspaceEntity, order: string): Promise<DraftEntity | null> {
    return this.drafts.findOneBy({
      workspaceId,
      standingOrder: order,
      state: 'open',
      contributors: Raw((column) => `cardinality(${column}) = 0`),
    });
  }

  /** @throws Problem DRAFT_CHANGED if somebody has taken it up by now, DRAFT_UNKNOWN */
  renewFor(draft: DraftEntity, order: string, edits: readonly Edit[]): Promise<DraftEntity> {
    const by = { id: orderAuthor(order).name, account: null };
    return this.putEntries(
      draft,
      by,
      edits.map((edit) => ({ edit, isOut: false })),
    );
  }

  private insert(
    workspace: WorkspaceEntity,
    baseCommit: string,
    edits: readonly Edit[],
    by: string,
    values: Pick<DraftEntity, 'name' | 'author' | 'authorEmail' | 'standingOrder' | 'contributors'>,
  ): Promise<DraftEntity> {
    const now = this.clock.now();
    const entries = edits.map((edit) => ({ edit, isOut: false }));
    return this.database.transaction(async (manager) => {
      const draft = await manager.save(
        this.drafts.create({
          ...values,
          id: randomUUID(),
          workspaceId: workspace.id,
          baseCommit,
          entries,
          revision: 0,
          position: 0,
          state: 'open',
          createdAt: now,
          updatedAt: now,
        }),
      );
      await manager.insert(DraftStateEntity, {
        draftId: draft.id,
        position: 0,
        entries,
        by,
      });
      return draft;
    });
  }

  async change(draft: DraftEntity, { name, base }: ChangeDraftDto): Promise<DraftEntity> {
    const values = { name: name ?? draft.name, baseCommit: base ?? draft.baseCommit };
    await this.drafts.update({ id: draft.id }, { ...values, updatedAt: this.clock.now() });
    return { ...draft, ...values };
  }

  /**
   * Puts other entries in place of all of a draft's.
   * @param draft as the entries were decided on
   * @throws Problem DRAFT_CHANGED if it is another by now, DRAFT_UNKNOWN
   */
  setEntries(draft: DraftEntity, by: Actor, changed: readonly DraftEntry[]): Promise<DraftEntity> {
    return this.putEntries(draft, doerOf(by), changed);
  }

  private putEntries(
    { id, revision }: DraftEntity,
    by: Doer,
    changed: readonly DraftEntry[],
  ): Promise<DraftEntity> {
    return this.locked(id, by, async (draft, manager) => {
      if (draft.revision !== revision) throw changedDraft();
      const entries = [...changed];
      const position = draft.position + 1;
      await manager.delete(DraftStateEntity, { draftId: id, position: MoreThan(draft.position) });
      await manager.insert(DraftStateEntity, { draftId: id, position, entries, by: by.id });
      await manager.delete(DraftStateEntity, {
        draftId: id,
        position: LessThan(position - MOST_STATES),
      });
      return { entries, position };
    });
  }

  /**
   * A draft was written into the repository as it stood at a revision. Edits that were added since then stay in it, as
   * the first state that undo can reach; without any the draft is posted and gone.
   * @param commit on which the edits that stay are carried on
   */
  async posted(
    manager: EntityManager,
    { draftId: id, draftRevision, entries, commit }: PostedDraft,
  ): Promise<void> {
    const draft = await manager.findOne(DraftEntity, {
      where: { id, state: 'open' },
      lock: { mode: 'pessimistic_write' },
    });
    if (draft === null) return;
    const left =
      draft.revision === draftRevision ? [] : entriesWithout(draft.entries, editsOf({ entries }));
    if (left.length === 0) {
      await manager.update(DraftEntity, { id }, { state: 'posted' });
      return;
    }
    const position = draft.position + 1;
    await manager.delete(DraftStateEntity, { draftId: id });
    await manager.insert(DraftStateEntity, { draftId: id, position, entries: left, by: null });
    await manager.update(
      DraftEntity,
      { id },
      { entries: left, position, revision: draft.revision + 1, baseCommit: commit },
    );
  }

  /** @throws Problem NOTHING_TO_UNDO, NOT_YOUR_CHANGE */
  step({ id }: DraftEntity, by: Actor, direction: -1 | 1): Promise<DraftEntity> {
    return this.locked(id, doerOf(by), async (draft, manager) => {
      const position = draft.position + direction;
      const [here, there] = await Promise.all(
        [draft.position, position].map((at) =>
          manager.findOneBy(DraftStateEntity, { draftId: id, position: at }),
        ),
      );
      const step = direction < 0 ? here : there;
      if (there != null && !isOf(step ?? null, by)) throw notYours(direction);
      if (there != null) return { entries: there.entries, position };
      throw new Problem(
        'NOTHING_TO_UNDO',
        409,
        direction < 0 ? 'Nothing to undo' : 'Nothing to do again',
        direction < 0
          ? 'This is the first state of the draft that is kept.'
          : 'No later state of the draft is kept.',
      );
    });
  }

  /** Which ways somebody can step a draft: over changes of their own alone. */
  async steps(
    { id, position }: DraftEntity,
    by: Actor,
  ): Promise<{ canUndo: boolean; canRedo: boolean }> {
    const near = await this.states.findBy({
      draftId: id,
      position: Between(position - 1, position + 1),
    });
    const at = (place: number): DraftStateEntity | null =>
      near.find((state) => state.position === place) ?? null;
    return {
      canUndo: at(position - 1) !== null && isOf(at(position), by),
      canRedo: at(position + 1) !== null && isOf(at(position + 1), by),
    };
  }

  /** Lets nobody post or approve an open draft as they have seen it: it comes out otherwise now. */
  async touchAll({ id: workspaceId }: WorkspaceEntity): Promise<void> {
    await this.drafts.increment({ workspaceId, state: 'open' }, 'revision', 1);
  }

  /** Takes a draft out of sight; `restore` brings it back. */
  async throwAway(draft: DraftEntity): Promise<void> {
    await this.drafts.update(
      { id: draft.id },
      { state: 'thrown-away', updatedAt: this.clock.now() },
    );
  }

  /** @throws Problem DRAFT_UNKNOWN */
  async restore(workspace: WorkspaceEntity, id: string): Promise<DraftEntity> {
    await this.drafts.update(
      { id, workspaceId: workspace.id, state: 'thrown-away' },
      { state: 'open' },
    );
    return this.byId(workspace, id);
  }

  /** Changes a draft while nobody else can. */
  private locked(
    id: string,
    { account }: Doer,
    work: (
      draft: DraftEntity,
      manager: EntityManager,
    ) => Promise<Pick<DraftEntity, 'entries' | 'position'>>,
  ): Promise<DraftEntity> {
    return this.database.transaction(async (manager) => {
      const draft = await manager.findOne(DraftEntity, {
        where: { id, state: 'open' },
        lock: { mode: 'pessimistic_write' },
      });
      if (draft === null) throw unknownDraft();
      const changed = await work(draft, manager);
      return manager.save(
        Object.assign(draft, changed, {
          revision: draft.revision + 1,
          contributors: [
            ...new Set([...draft.contributors, ...(account === null ? [] : [account])]),
          ],
          updatedAt: this.clock.now(),
        }),
      );
    });
  }
}

/** Who changes a draft: the id that stands with its states, and the account that had a part in it, where a person did it. */
interface Doer {
  readonly id: string;
  readonly account: string | null;
}

function doerOf(actor: Actor): Doer {
  return { id: actor.id, account: accountOf(actor) };
}

/** What of a draft was posted. */
export interface PostedDraft {
  readonly draftId: string;
  readonly draftRevision: number | null;
  readonly entries: readonly DraftEntry[];
  readonly commit: string;
}

function entriesWithout(entries: readonly DraftEntry[], edits: readonly Edit[]): DraftEntry[] {
  const gone = [...edits];
  return entries.filter(({ edit, isOut }) => {
    const at = gone.findIndex((one) => isDeepStrictEqual(one, edit));
    if (at < 0 || isOut) return true;
    gone.splice(at, 1);
    return false;
  });
}

function isOf(state: DraftStateEntity | null, by: Actor): boolean {
  return state !== null && (state.by === null || state.by === by.id);
}

function notYours(direction: -1 | 1): Problem {
  return new Problem(
    'NOT_YOUR_CHANGE',
    409,
    'This is somebody else’s change',
    `Undo takes back only one’s own. ${direction < 0 ? 'Take the edit out instead.' : 'Ask them to do it again.'}`,
  );
}

function unknownDraft(): Problem {
  return new Problem(
    'DRAFT_UNKNOWN',
    404,
    'No such draft',
    'This draft is not there: it was posted or thrown away.',
  );
}

export function changedDraft(): Problem {
  return new Problem(
    'DRAFT_CHANGED',
    409,
    'The draft was changed elsewhere',
    'Someone else, or another window, has changed this draft since. Nothing of this change was kept; look at the draft as it is now and try again.',
  );
}
