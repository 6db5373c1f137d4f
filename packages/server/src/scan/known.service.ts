import { Injectable } from '@nestjs/common';
import { needlessCopies, type DraftBase, type Known } from '@deep-ledger/core';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { ScanService } from './scan.service.js';

/** Looking for needless copies resolves once and more for each package that has several; beyond this it is left. */
const MOST_COPIES = 3000;

const NOTHING: Known = { use: null, needless: null };

/** What is known of a snapshot beside its files: what source uses, and which copies are needless. */
@Injectable()
export class KnownService {
  private readonly asked = new WeakMap<DraftBase, Promise<Known>>();
  private readonly answered = new WeakMap<DraftBase, Known>();

  constructor(private readonly scans: ScanService) {}

  /** Scans source where that has not been done. */
  async of(entity: WorkspaceEntity, snapshot: Snapshot): Promise<Known> {
    const { base, head } = snapshot;
    const { workspace } = base;
    if (workspace === null) return NOTHING;
    const asked =
      this.asked.get(base) ??
      this.scans.use(entity.id, head.commit, workspace).then((use) => {
        const known = { use, needless: needless(base) };
        this.answered.set(base, known);
        return known;
      });
    this.asked.set(base, asked);
    // What failed once may go well when it is asked for again.
    asked.catch(() => this.asked.delete(base));
    return asked;
  }

  /** What is at hand; nothing while source is being scanned. */
  atHand(base: DraftBase): Known {
    return this.answered.get(base) ?? NOTHING;
  }
}

/** Is everything there to resolve with, and small enough to do so many times while somebody waits? */
export function mayResolve({ lock, records }: DraftBase): boolean {
  const isWhole = [...records.values()].every((record) => record !== null);
  return isWhole && (lock?.resolution?.copies.length ?? 0) <= MOST_COPIES;
}

function needless(base: DraftBase): Known['needless'] {
  const { workspace, lock, engine, today } = base;
  const resolution = lock?.resolution ?? null;
  if (workspace === null || resolution === null) return null;
  if (!mayResolve(base)) return null;
  return needlessCopies(engine, { workspace, asOf: today }, resolution);
}
