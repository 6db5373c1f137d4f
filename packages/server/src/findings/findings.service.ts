import { Injectable } from '@nestjs/common';
import {
  causesOf,
  evaluateDraft,
  figuresOf,
  findAll,
  findingsAfter,
  mutesOf,
  rankRemedies,
  standOfBase,
  type Cause,
  type ClosedBooks,
  type DraftBase,
  type Figures,
  type Finding,
  type Known,
  type MutedLine,
  type RankedRemedy,
} from '@deep-ledger/core';
import { KnownService } from '../scan/known.service.js';
import { WorkerPool } from '../workers/worker-pool.js';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';

/** So many remedies are tried out; the rest are ranked by what they say of themselves. */
const MOST_TRIED = 12;
/** Trying out resolves; beyond this size it is left to whoever opens a remedy. */
const MOST_COPIES_TRIED = 3000;

/** A remedy, and what it was found to clear. */
export interface TriedRemedy extends RankedRemedy {
  readonly clears: readonly string[];
  readonly raises: readonly string[];
}

/** All findings of a snapshot. */
export interface BookFindings {
  readonly findings: readonly Finding[];
  readonly causes: readonly Cause[];
  readonly muted: ReadonlyMap<string, MutedLine>;
  readonly figures: Figures;
  /** The best first. The first call tries them out. */
  readonly remedies: () => readonly TriedRemedy[];
  readonly known: Known;
}

@Injectable()
export class FindingsService {
  private readonly found = new WeakMap<DraftBase, Promise<BookFindings>>();
  private readonly closed = new WeakMap<DraftBase, Promise<ClosedBooks>>();

  constructor(
    private readonly known: KnownService,
    private readonly workers: WorkerPool,
  ) {}

  /** Scans source where that has not been done. */
  of(entity: WorkspaceEntity, snapshot: Snapshot): Promise<BookFindings> {
    const { base } = snapshot;
    const asked =
      this.found.get(base) ??
      this.known.of(entity, snapshot).then((known) => this.work(base, known));
    this.found.set(base, asked);
    asked.catch(() => this.found.delete(base));
    return asked;
  }

  /** In a worker thread: it resolves some hundred times. */
  close(entity: WorkspaceEntity, snapshot: Snapshot): Promise<ClosedBooks> {
    const { base } = snapshot;
    const { files, records, today } = base;
    const asked =
      this.closed.get(base) ??
      this.known.of(entity, snapshot).then(({ use }) =>
        this.workers.run('closeBooksOf', {
          files,
          records,
          today,
          use,
        }),
      );
    this.closed.set(base, asked);
    asked.catch(() => this.closed.delete(base));
    return asked;
  }

  private work(base: DraftBase, known: Known): BookFindings {
    const stand = standOfBase(base, known);
    const findings = findAll(stand);
    const muted = mutesOf(base.workspace, base.today);
    const open = findings.filter(({ id }) => !muted.has(id));
    let remedies: readonly TriedRemedy[] | null = null;
    return {
      findings,
      causes: causesOf(stand, findings),
      muted,
      figures: figuresOf(stand, open),
      remedies: () => (remedies ??= tried(base, known, findings, rankRemedies(open))),
      known,
    };
  }
}

function tried(
  base: DraftBase,
  known: Known,
  before: readonly Finding[],
  ranked: readonly RankedRemedy[],
): readonly TriedRemedy[] {
  const isSmall = (base.lock?.resolution?.copies.length ?? 0) <= MOST_COPIES_TRIED;
  return ranked
    .slice(0, 4 * MOST_TRIED)
    .map((remedy, i): TriedRemedy => {
      const after =
        isSmall && i < MOST_TRIED
          ? findingsAfter(base, evaluateDraft(base, remedy.edits), known)
          : null;
      if (after === null) return { ...remedy, clears: remedy.findings, raises: [] };
      const now = new Set(after.map(({ id }) => id));
      const old = new Set(before.map(({ id }) => id));
      return {
        ...remedy,
        clears: before.filter(({ id }) => !now.has(id)).map(({ id }) => id),
        raises: after.filter(({ id }) => !old.has(id)).map(({ id }) => id),
      };
    })
    .sort(
      (a, b) =>
        (b.clears.length - b.raises.length) / Math.sqrt(1 + b.touches) -
        (a.clears.length - a.raises.length) / Math.sqrt(1 + a.touches),
    );
}
