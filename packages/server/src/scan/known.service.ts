import { Injectable } from '@nestjs/common';
import { lookForNeedless, type DraftBase, type Known } from '@deep-ledger/core';
import type { Snapshot } from '../workspaces/snapshot.js';
import type { WorkspaceEntity } from '../workspaces/workspace.entity.js';
import { ScanService } from './scan.service.js';

const NOTHING: Known = { use: null, needless: null };

/**
 * What is known of a snapshot beside its files: what source uses, and which copies are needless. Finding the latter
 * resolves again and again, so it is for workspaces that are not large.
 */
@Injectable()
export class KnownService {
  private readonly asked = new WeakMap<DraftBase, Promise<Known>>();
  private readonly answered = new WeakMap<DraftBase, Known>();

  constructor(private readonly scans: ScanService) {}

  /** Has source scanned where that has not been done. */
  async of(entity: WorkspaceEntity, { head, base }: Snapshot): Promise<Known> {
    const { workspace } = base;
    if (workspace === null) return NOTHING;
    const asked =
      this.asked.get(base) ??
      this.scans.use(entity, head.commit, workspace).then((use) => {
        const known = { use, needless: lookForNeedless(base) };
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
